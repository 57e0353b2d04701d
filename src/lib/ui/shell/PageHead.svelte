<script lang="ts">
	/**
	 * The head of every page, always at the same place: its title, one line of state, at the right what can be done, and under it the other
	 * pages of the section or of the log.
	 */
	import type { Snippet } from 'svelte';
	import { page } from '$app/state';
	import Mark from '../findings/Mark.svelte';
	import Menu, { type MenuItem } from './Menu.svelte';
	import { tabsOf } from './tabs';

	interface Props {
		title: string;
		/** The line under the title, part by part; what is missing is left out. */
		says?: readonly (string | null | undefined | false)[];
		/** What of that line is more than words. */
		status?: Snippet | undefined;
		/** Two buttons at most, then the primary one. */
		actions?: Snippet;
		/** The rest. */
		more?: MenuItem[];
	}
	let { title, says = [], status, actions, more = [] }: Props = $props();
	const said = $derived(says.filter((s) => s !== null && s !== undefined && s !== false && s !== ''));
	const tabs = $derived(tabsOf(page.url.pathname, page.params, page.data));
</script>

<header class="page-head">
	<div class="line">
		<div class="what">
			<h1 {title}>{title}</h1>
			<div class="says">
				{#each said as part, i (i)}<span>{part}</span>{/each}
				{#if status}<span class="status">{@render status()}</span>{/if}
			</div>
		</div>
		{#if actions || more.length}
			<div class="actions no-print">
				{#if more.length}<Menu items={more} />{/if}
				{@render actions?.()}
			</div>
		{/if}
	</div>
	{#if tabs}
		<nav class="tabs no-print" aria-label={tabs.label}>
			{#each tabs.pages as tab (tab.href)}
				<a href={tab.href} aria-current={tab.here ? 'page' : undefined}>
					<span data-text={tab.title}>{tab.title}</span>
					{#if tab.state}<Mark state={tab.state} bare size={10} />{/if}
				</a>
			{/each}
		</nav>
	{/if}
</header>

<style>
	.page-head {
		position: sticky;
		top: var(--top);
		z-index: 10;
		margin: 0 calc(-1 * var(--gutter)) 16px;
		padding: 12px var(--gutter) 0;
		background: var(--paper);
		border-bottom: 1px solid var(--line);
	}
	.line {
		display: flex;
		align-items: flex-start;
		gap: 24px;
		padding-bottom: 12px;
	}
	.what {
		min-width: 0;
		flex: 1;
	}
	h1 {
		overflow: hidden;
		text-overflow: ellipsis;
		white-space: nowrap;
	}
	.says {
		display: flex;
		min-height: 20px;
		overflow: hidden;
		font-size: 13px;
		line-height: 20px;
		color: var(--muted);
		white-space: nowrap;
	}
	.says > span + span::before {
		content: '·';
		margin: 0 6px;
	}
	.actions {
		display: flex;
		flex: none;
		align-items: center;
		gap: 8px;
		padding-top: 4px;
	}
	.tabs {
		display: flex;
		gap: 20px;
		height: 32px;
		margin-top: -4px;
	}
	.tabs a {
		position: relative;
		display: inline-flex;
		align-items: center;
		gap: 5px;
		color: var(--muted);
		text-decoration: none;
		white-space: nowrap;
	}
	/* The bold form keeps its room beforehand, so that nothing moves. */
	.tabs a > span[data-text] {
		display: inline-grid;
	}
	.tabs a > span[data-text]::after {
		content: attr(data-text);
		height: 0;
		overflow: hidden;
		visibility: hidden;
		font-weight: 650;
	}
	.tabs a:hover {
		color: var(--ink);
	}
	.tabs a[aria-current] {
		color: var(--ink);
		font-weight: 650;
	}
	.tabs a[aria-current]::after {
		content: '';
		position: absolute;
		inset: auto 0 -1px;
		height: 2px;
		background: var(--ink);
	}
	@media print {
		.page-head {
			position: static;
		}
		h1,
		.says {
			white-space: normal;
		}
	}
</style>
