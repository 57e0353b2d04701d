<script lang="ts">
	/**
	 * A form keeps what was typed and says when something would be lost: whatever was typed into a form that is sent by its button, and wasn't
	 * sent, is asked about before the page is left. One for all forms of a page, so that none is forgotten.
	 */
	import { beforeNavigate } from '$app/navigation';
	import { page } from '$app/state';
	import { SvelteSet } from 'svelte/reactivity';

	/** Forms with something typed that wasn't sent. */
	const typed = new SvelteSet<HTMLFormElement>();
	/** The one that is on its way: where the server refuses it, what was typed is as unsaved as before. */
	let sent: HTMLFormElement | null = null;
	/** The answer that stood on the page when it was sent: another one is the answer to it. */
	let before: unknown = null;

	/** A file that was chosen is still where it was: only what was typed or set can be lost. */
	const formOf = (target: EventTarget | null): HTMLFormElement | null =>
		(target instanceof HTMLInputElement && target.type !== 'file') ||
		target instanceof HTMLTextAreaElement ||
		target instanceof HTMLSelectElement
			? target.form?.method === 'post'
				? target.form
				: null
			: null;
	const refused = () => page.status >= 400 && page.form !== before;
	const open = () => [...typed].some((f) => f.isConnected && (f !== sent || refused()));

	beforeNavigate(({ from, to, type, cancel }) => {
		if (!open()) return;
		if (to && from?.url.pathname === to.url.pathname) return;
		// The browser asks in its own words where the page is closed.
		if (type === 'leave') return cancel();
		if (confirm('What you typed on this page isn’t saved. Leave it?')) typed.clear();
		else cancel();
	});
</script>

<svelte:document
	oninput={(e) => {
		const form = formOf(e.target);
		if (!form) return;
		typed.add(form);
		if (sent === form) sent = null;
	}}
	onsubmitcapture={(e) => {
		if (!(e.target instanceof HTMLFormElement)) return;
		sent = e.target;
		before = page.form;
	}}
	onreset={(e) => {
		if (e.target instanceof HTMLFormElement) typed.delete(e.target);
	}}
/>
