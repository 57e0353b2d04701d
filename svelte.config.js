import adapter from '@sveltejs/adapter-node';
import { vitePreprocess } from '@sveltejs/vite-plugin-svelte';

/** @type {import('@sveltejs/kit').Config} */
export default {
	preprocess: vitePreprocess(),
	kit: {
		alias: { $core: 'src/core' },
		adapter: adapter(),
		csp: {
			mode: 'nonce',
			directives: {
				'default-src': ['self'],
				'script-src': ['self'],
				// Charts and positioned menus set inline style properties.
				'style-src': ['self', 'unsafe-inline'],
				'img-src': ['self', 'data:'],
				// Small font subsets are inlined by the build.
				'font-src': ['self', 'data:'],
				'object-src': ['none'],
				'base-uri': ['none'],
				'form-action': ['self'],
				'frame-ancestors': ['none']
			}
		},
		typescript: {
			config: (config) => ({ ...config, include: config.include.filter((i) => !i.includes('tests')) })
		}
	}
};
