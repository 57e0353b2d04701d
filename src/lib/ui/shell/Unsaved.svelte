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

	const formOf = (target: EventTarget | null): HTMLFormElement | null =>
		target instanceof HTMLInputElement ||
		target instanceof HTMLTextAreaElement ||
		target instanceof HTMLSelectElement
			? target.form?.method === 'post'
				? target.form
				: null
			: null;
	const open = () => [...typed].filter((f) => f.isConnected && (f !== sent || page.status >= 400)).length > 0;

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
		if (e.target instanceof HTMLFormElement) sent = e.target;
	}}
	onreset={(e) => {
		if (e.target instanceof HTMLFormElement) typed.delete(e.target);
	}}
/>
