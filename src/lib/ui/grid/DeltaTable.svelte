<script lang="ts">
	/** A table of differences: highest load on top, what is equal left pale. On paper it is set smaller, so that no column is cut off. */
	interface Cell {
		text: string;
		/** Colour of the difference; none where nothing differs. */
		background: string | undefined;
		title?: string;
	}
	let {
		caption,
		x,
		y,
		cell,
		beyondX = [],
		beyondY = [],
		testid
	}: {
		caption: string;
		x: readonly number[];
		/** Null for a single row. */
		y: readonly number[] | null;
		/** By row and column of the table. */
		cell: (r: number, c: number) => Cell;
		/** Points beyond the old table. */
		beyondX?: readonly boolean[];
		beyondY?: readonly boolean[];
		testid?: string;
	} = $props();
	const rows = $derived((y ?? [0]).map((_, r) => r).reverse());
</script>

<div class="overflow-x-auto">
	<table
		class="numbers border-separate border-spacing-px text-right print:text-[9px] print:leading-[12px]"
		data-testid={testid}
	>
		<caption class="text-muted pb-1 text-left font-sans text-small print:pt-3 print:leading-[16px]"
			>{caption}</caption
		>
		<thead>
			<tr>
				<td></td>
				{#each x as p, c (p)}<th
						scope="col"
						class="text-muted min-w-[42px] px-1 font-normal print:min-w-0 print:px-0.5"
						>{p}{beyondX[c] ? '†' : ''}</th
					>{/each}
			</tr>
		</thead>
		<tbody>
			{#each rows as r (r)}
				<tr>
					<th scope="row" class="text-muted pr-2 font-normal">{y?.[r] ?? ''}{beyondY[r] ? '†' : ''}</th>
					{#each x as p, c (p)}
						{@const v = cell(r, c)}
						<td
							class="h-[21px] px-1 print:h-auto print:px-0.5 {v.background ? '' : 'text-muted'}"
							style:background={v.background}
							title={v.title}>{v.text}</td
						>
					{/each}
				</tr>
			{/each}
		</tbody>
	</table>
</div>
{#if beyondX.some(Boolean) || beyondY.some(Boolean)}
	<p class="text-muted text-small">† lies beyond the old table: there its edge is held, which is a guess.</p>
{/if}
