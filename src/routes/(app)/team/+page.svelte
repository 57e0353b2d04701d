<script lang="ts">
	import PageHead from '$lib/ui/shell/PageHead.svelte';
	import Alert from '$lib/ui/Alert.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { messageOf } from '$lib/ui/form-message';
	import { enhance } from '$app/forms';
	import { day } from '$lib/ui/time';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
	const owner = $derived(data.me.role === 'owner');
</script>

<svelte:head><title>Tuners – Tanto</title></svelte:head>

<main class="max-w-[820px] px-(--gutter) pb-6">
	<PageHead title="Tuners" />
	<Alert box message={messageOf(form)} class="mb-4" />
	<table class="mb-6 w-full text-left">
		<thead>
			<tr class="table-head">
				<th class="py-1 font-normal">Name</th><th class="py-1 font-normal">Mail address</th>
				<th class="py-1 font-normal">Role</th><th class="py-1 text-right font-normal">Signed in</th>
				<th class="py-1"><span class="sr-only">Remove</span></th>
			</tr>
		</thead>
		<tbody>
			{#each data.tuners as t (t.id)}
				<tr class="border-line border-b">
					<td class="py-1.5 pr-3 break-words">{t.name}{t.id === data.me.id ? ' (you)' : ''}</td>
					<td class="py-1.5 pr-3 break-all">{t.email}</td>
					<td class="py-1.5">{t.role}</td>
					<td class="py-1.5 text-right">{t.sessions === 0 ? 'no' : `${t.sessions} ×`}</td>
					<td class="py-1 text-right">
						{#if owner && t.role !== 'owner'}
							<div class="flex justify-end gap-2">
								<form method="POST" action="?/reset" use:enhance>
									<input type="hidden" name="id" value={t.id} />
									<button class="button" aria-label="Link for a new password of {t.name}">New password</button
									>
								</form>
								<form method="POST" action="?/remove" use:enhance>
									<input type="hidden" name="id" value={t.id} />
									<button class="button" aria-label="Remove {t.name}">Remove</button>
								</form>
							</div>
						{/if}
					</td>
				</tr>
			{/each}
		</tbody>
	</table>
	{#if form && 'resetLink' in form}
		<div role="status" class="mb-4 max-w-[620px]">
			<Field
				title="For {form.resetFor}: the link works once, for an hour, and is shown only now. Who opens it is who sets the password."
				class="block"
			>
				<input readonly value={form.resetLink} onfocus={(e) => e.currentTarget.select()} /></Field
			>
		</div>
	{/if}
	{#if owner}
		<h2 class="mb-1">Invite</h2>
		<form method="POST" action="?/invite" use:enhance class="mb-3 flex max-w-[720px] items-end gap-3">
			<Field title="Mail address" class="flex-1"
				><input name="email" type="email" required autocomplete="off" /></Field
			>
			<Field title="as"
				><select name="role"
					><option value="tuner">tuner</option><option value="apprentice"
						>apprentice: prepares, does not release</option
					></select
				></Field
			>
			<button class="button button-main">Invite</button>
		</form>
		{#if form && 'link' in form}
			<div role="status" class="mb-4 max-w-[620px]">
				<p>
					{form.mailed
						? `A mail is on its way to ${form.invited}.`
						: 'No mail went out; send this link yourself.'}
				</p>
				<Field title="The link works once, for seven days, and is shown only now." class="block">
					<input readonly value={form.link} onfocus={(e) => e.currentTarget.select()} /></Field
				>
			</div>
		{/if}
		{#if data.invitations.length}
			<ul class="mb-6 max-w-[620px]">
				{#each data.invitations as i (i.id)}
					<li class="border-line flex items-center gap-3 border-b py-1">
						<span class="min-w-0 flex-1 break-all">{i.email}</span>
						<span class="text-muted text-small">{i.role}, open until {day(i.expiresAt)}</span>
						<form method="POST" action="?/withdraw" use:enhance>
							<input type="hidden" name="id" value={i.id} />
							<button class="button" aria-label="Withdraw the invitation of {i.email}">Withdraw</button>
						</form>
					</li>
				{/each}
			</ul>
		{/if}
	{/if}
	<h2 class="mt-6 mb-1">What customers can download</h2>
	<p class="mb-2 max-w-prose">
		The closed file of a release, always. Its tables in plain numbers {owner
			? 'only where this says so; each release can still be decided by itself.'
			: data.offersTables
				? 'as well, where the tuner leaves it so.'
				: 'only where a tuner says so for that release.'}
	</p>
	{#if owner}
		<form
			method="POST"
			action="?/offers"
			use:enhance={() =>
				({ update }) =>
					update({ reset: false })}
			class="flex items-center gap-3"
		>
			<label class="flex items-center gap-2">
				<input type="checkbox" name="tables" checked={data.offersTables} />
				Offer the tables with each release
			</label>
			<button class="button">Save</button>
			{#if form && 'saved' in form}<span class="text-clear text-small" role="status">saved</span>{/if}
		</form>
	{/if}
	<h2 class="mt-6 mb-1">Your password</h2>
	<form method="POST" action="?/password" use:enhance class="flex max-w-[720px] flex-wrap items-end gap-3">
		<Field title="Password now" class="flex-1"
			><input name="current" type="password" required autocomplete="current-password" /></Field
		>
		<Field title="New password, at least 10 characters" class="flex-1"
			><input name="password" type="password" required minlength="10" autocomplete="new-password" /></Field
		>
		<button class="button">Change it</button>
		{#if form && 'passwordChanged' in form}<span class="text-clear text-small" role="status"
				>changed; all your other sessions are ended</span
			>{/if}
	</form>
	{#if owner}
		<h2 class="mt-6 mb-1">The server</h2>
		<p><a class="underline" href="/server">Disk, backup, mail and what waits</a></p>
	{/if}
	<h2 class="mt-6 mb-2">Your sessions</h2>
	<div class="flex gap-3">
		<form method="POST" action="?/signOut"><button class="button">Sign out</button></form>
		<form method="POST" action="?/everywhere">
			<button class="button">Sign out everywhere, on all machines</button>
		</form>
	</div>
</main>
