<script lang="ts">
	/** The rail of a job: its sections with how they stand, and under them its string of logs, revisions, messages and tests. */
	import { page } from '$app/state';
	import Activity from '@lucide/svelte/icons/activity';
	import CarFront from '@lucide/svelte/icons/car-front';
	import Grid from '@lucide/svelte/icons/grid-3x3';
	import LayoutList from '@lucide/svelte/icons/layout-list';
	import MessageSquare from '@lucide/svelte/icons/message-square';
	import PanelLeftClose from '@lucide/svelte/icons/panel-left-close';
	import PanelLeftOpen from '@lucide/svelte/icons/panel-left-open';
	import RouteIcon from '@lucide/svelte/icons/route';
	import SearchCheck from '@lucide/svelte/icons/search-check';
	import type { Rail } from '$lib/server/jobs/rail';
	import type { TimelineEvent } from '$lib/server/jobs/timeline-event';
	import Mark from '../findings/Mark.svelte';
	import JobTimeline from '../timeline/JobTimeline.svelte';
	import { JOB_SECTIONS, placeOf, type SectionId } from './sections';

	interface Props {
		job: { id: number; title: string; customer: string; customerId: number; vehicle: { name: string } };
		rail: Rail;
		events: TimelineEvent[];
		openStop: string | null;
		folded: boolean;
		onfold: (folded: boolean) => void;
	}
	let { job, rail, events, openStop, folded, onfold }: Props = $props();

	const ICONS: Record<SectionId, typeof Activity> = {
		overview: LayoutList,
		logs: Activity,
		calibration: Grid,
		diagnosis: SearchCheck,
		plan: RouteIcon,
		vehicle: CarFront,
		customer: MessageSquare
	};
	const base = $derived(`/jobs/${job.id}`);
	const here = $derived(placeOf(page.url.pathname.slice(base.length)).section.id);
</script>

<aside class="rail no-print {folded ? 'slim' : ''}" aria-label="Job">
	{#if !folded}
		<div class="job">
			<a class="name" href={base} title={job.title}>{job.title}</a>
			<p class="whose" title="{job.customer} · {job.vehicle.name}">
				<a class="hover:underline" href="/customers/{job.customerId}">{job.customer}</a> · {job.vehicle.name}
			</p>
		</div>
	{/if}
	<nav class="sections" aria-label="Sections of the job">
		{#each JOB_SECTIONS as section (section.id)}
			{@const Icon = ICONS[section.id]}
			{@const state = rail.sections[section.id]}
			<a
				href={base + section.pages[0]!.path}
				aria-current={here === section.id ? 'page' : undefined}
				title={folded ? `${section.title}${state?.word ? `: ${state.word}` : ''}` : undefined}
			>
				<Icon size={16} strokeWidth={1.75} aria-hidden="true" />
				<span class={folded ? 'sr-only' : ''}>{section.title}</span>
				<span class="state">
					{#if state && !folded}{state.word}{/if}
					{#if state?.mark}<Mark state={state.mark} bare size={folded ? 10 : 12} />{/if}
				</span>
			</a>
		{/each}
	</nav>
	<JobTimeline jobId={job.id} {events} inCar={rail.inCar} {openStop} {folded} />
	<div class="foot">
		{#if !folded}<span class="text-muted text-note">{events.length} on the string</span>{/if}
		<button
			class="fold"
			onclick={() => onfold(!folded)}
			aria-label={folded ? 'Show names' : 'Icons only'}
			title={folded ? 'Show names' : 'Icons only'}
			>{#if folded}<PanelLeftOpen size={16} aria-hidden="true" />{:else}<PanelLeftClose
					size={16}
					aria-hidden="true"
				/>{/if}</button
		>
	</div>
</aside>

<style>
	.rail {
		position: sticky;
		top: var(--top);
		display: flex;
		flex: none;
		flex-direction: column;
		width: 220px;
		height: calc(100vh - var(--top));
		background: var(--rail);
		border-right: 1px solid var(--line);
	}
	.rail.slim {
		width: 48px;
	}
	.job {
		padding: 12px 16px;
		border-bottom: 1px solid var(--line);
	}
	.name {
		display: -webkit-box;
		overflow: hidden;
		-webkit-box-orient: vertical;
		-webkit-line-clamp: 2;
		line-clamp: 2;
		font-size: 15px;
		font-weight: 650;
		line-height: 20px;
		text-decoration: none;
		overflow-wrap: anywhere;
	}
	.whose {
		overflow: hidden;
		font-size: 12px;
		line-height: 16px;
		color: var(--muted);
		text-overflow: ellipsis;
		white-space: nowrap;
	}
	.sections {
		padding: 4px 0;
		border-bottom: 1px solid var(--line);
	}
	.sections a {
		position: relative;
		display: grid;
		grid-template-columns: 16px minmax(0, 1fr) auto;
		gap: 10px;
		align-items: center;
		height: 32px;
		padding: 0 16px;
		text-decoration: none;
	}
	.sections a:hover {
		background: color-mix(in oklab, var(--shade) 55%, transparent);
	}
	.sections a[aria-current] {
		background: var(--shade);
		box-shadow: inset 3px 0 0 var(--ink);
		font-weight: 650;
	}
	.state {
		display: inline-flex;
		gap: 6px;
		align-items: center;
		font-size: 12px;
		font-weight: 400;
		color: var(--muted);
	}
	a[aria-current] .state {
		color: var(--ink);
	}
	.slim .sections a {
		display: flex;
		justify-content: center;
		height: 36px;
		padding: 0;
	}
	.slim .state {
		position: absolute;
		top: 4px;
		left: 28px;
	}
	.foot {
		display: flex;
		flex: none;
		align-items: center;
		justify-content: space-between;
		height: 36px;
		padding: 0 8px 0 16px;
		border-top: 1px solid var(--line);
	}
	.slim .foot {
		justify-content: center;
		padding: 0;
	}
	.fold {
		padding: 6px;
		cursor: pointer;
	}
</style>
