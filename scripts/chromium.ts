/** How Debian's Chromium is started wherever the project drives it: headless, and without looking for anything outside. */
export const CHROMIUM = {
	executablePath: '/usr/bin/chromium',
	args: [
		'--no-sandbox',
		'--disable-gpu',
		'--disable-quic',
		'--no-first-run',
		'--disable-background-networking',
		'--disable-component-update',
		'--disable-sync'
	]
};
