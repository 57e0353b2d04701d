<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import { goto } from '$app/navigation';
	import { day } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
	let timer: ReturnType<typeof setTimeout> | undefined;
	function search(text: string) {
		clearTimeout(timer);
		timer = setTimeout(
			() => void goto(text ? `?q=${encodeURIComponent(text)}` : '?', { keepFocus: true, replaceState: true }),
			200
		);
	}
</script>

<svelte:head><title>Customers – Tanto</title></svelte:head>

<main class="px-(--gutter) pb-6">
	{#snippet found()}<span role="status"
			>{data.search ? `${data.customers.length} found` : `${data.customers.length} in all`}</span
		>{/snippet}
	{#snippet actions()}
		<form method="GET" role="search" class="w-[380px]">
			<input
				type="search"
				name="q"
				value={data.search}
				placeholder="Customer, mail address, vehicle or job"
				aria-label="Search customers, vehicles and jobs"
				autocomplete="off"
				oninput={(e) => search(e.currentTarget.value)}
			/>
		</form>
	{/snippet}
	<PageHead title="Customers" status={found} {actions} />
	{#if data.customers.length === 0}
		<p class="text-muted">
			{data.search
				? `Nobody and nothing is called “${data.search}”. Fewer letters find more.`
				: 'Nobody yet. A customer is made together with the first job.'}
		</p>
	{:else}
		<table class="w-full table-fixed text-left">
			<thead>
				<tr class="table-head">
					<th class="w-[300px] py-1.5 font-normal">Customer</th>
					<th class="py-1.5 font-normal">Vehicles</th>
					<th class="py-1.5 font-normal">Jobs</th>
				</tr>
			</thead>
			<tbody>
				{#each data.customers as c (c.id)}
					<tr class="border-line hover:bg-shade border-b align-top">
						<td class="py-2 pr-4 break-words"
							><a class="font-semibold underline" href="/customers/{c.id}">{c.name}</a><span
								class="text-muted block truncate text-small">{c.email ?? 'no mail address'}</span
							></td
						>
						<td class="py-2 pr-4">
							{#each c.vehicles as v (v.id)}<div class="truncate" title={v.name}>
									{#if v.jobId}<a class="hover:underline" href="/jobs/{v.jobId}/vehicle">{v.name}</a
										>{:else}{v.name}{/if}
								</div>{/each}
						</td>
						<td class="py-2">
							{#each c.jobs as j (j.id)}<div class="flex gap-2">
									<a class="min-w-0 truncate underline" href="/jobs/{j.id}" title={j.title}>{j.title}</a><span
										class="text-muted shrink-0 text-small">{day(j.createdAt)}</span
									>
								</div>{/each}
						</td>
					</tr>
				{/each}
			</tbody>
		</table>
	{/if}
</main>
