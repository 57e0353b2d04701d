<script lang="ts">
	/** The engine from above, bank by bank: each cylinder with its mixture against its peers as colour, its plug as it was read, and what stands out. */
	import { signedText, tint } from '../cellmap/colour';
	import Mark from '../findings/Mark.svelte';
	import type { CylinderPlace } from './cylinder-place';
	import PlugGlyph from './PlugGlyph.svelte';

	interface Props {
		banks: readonly (readonly CylinderPlace[])[];
		/** Whether plugs were read at all: else their place is left out. */
		plugs: boolean;
		onpick?: ((cylinder: number) => void) | undefined;
	}
	let { banks, plugs, onpick }: Props = $props();
</script>

{#snippet body(c: CylinderPlace)}
	<span class="top"
		><b>{c.cylinder}</b>{#if c.state}<Mark state={c.state} bare size={11} />{/if}
		<span class="numbers ml-auto">{c.lambdaPct === null ? '' : signedText(c.lambdaPct)}</span></span
	>
	{#if plugs}
		<span class="glyph"
			>{#if c.reading}<PlugGlyph reading={c.reading} />{:else}<span class="text-muted text-note"
					>not read</span
				>{/if}</span
		>
	{/if}
	{#each c.lines as l (l.name)}
		<span class="fact"
			>{l.name}<span class="numbers ml-auto {l.out ? 'text-fix font-semibold' : ''}">{l.value}</span></span
		>
	{/each}
{/snippet}

<div class="engine" role="group" aria-label="Engine from above">
	{#each banks as bank, b (b)}
		{#if b > 0}<div class="axis" aria-hidden="true"><span>front</span><i></i><span>gearbox</span></div>{/if}
		<div class="bank">
			{#if banks.length > 1}<span class="name">Bank {b + 1}</span>{/if}
			{#each bank as c (c.cylinder)}
				{#if onpick}
					<button
						class="hole {c.state ?? ''}"
						style:background={tint(c.lambdaPct)}
						onclick={() => onpick(c.cylinder)}>{@render body(c)}</button
					>
				{:else}
					<div class="hole {c.state ?? ''}" style:background={tint(c.lambdaPct)}>{@render body(c)}</div>
				{/if}
			{/each}
		</div>
	{/each}
	{#if banks.length === 1}<div class="axis" aria-hidden="true">
			<span>front</span><i></i><span>gearbox</span>
		</div>{/if}
</div>

<style>
	.engine {
		display: grid;
		gap: 10px;
		max-width: 820px;
		overflow-x: auto;
	}
	.bank {
		display: flex;
		align-items: stretch;
		gap: 8px;
	}
	.name {
		align-self: center;
		width: 60px;
		font-weight: 600;
	}
	.hole {
		display: flex;
		flex: 1 1 0;
		flex-direction: column;
		gap: 1px;
		min-width: 92px;
		padding: 7px 9px;
		border: 1px solid var(--strong-line);
		border-radius: 4px;
		text-align: left;
	}
	.hole.fix,
	.hole.stop {
		border-width: 2px;
		padding: 6px 8px;
	}
	.hole.fix {
		border-color: var(--fix);
	}
	.hole.stop {
		border-color: var(--stop);
	}
	button.hole {
		cursor: pointer;
	}
	.top,
	.fact {
		display: flex;
		align-items: center;
		gap: 6px;
	}
	.fact {
		font-size: 12.5px;
		line-height: 17px;
	}
	.glyph {
		display: grid;
		place-items: center;
		min-height: 72px;
	}
	.axis {
		display: flex;
		align-items: center;
		gap: 10px;
		font-size: 12px;
		color: var(--muted);
	}
	.axis i {
		flex: 1;
		height: 4px;
		border: solid var(--strong-line);
		border-width: 1px 0;
	}
</style>
