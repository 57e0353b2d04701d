<script lang="ts">
	/** Takes a photo into its place: made small here, sent at once. */
	import { enhance } from '$app/forms';
	import { shrunk } from './shrink';

	let {
		item,
		label,
		text,
		main = false,
		class: more = ''
	}: {
		/** The place that it belongs to. */
		item: string;
		label: string;
		text: string;
		/** It is what comes next. */
		main?: boolean;
		class?: string;
	} = $props();
	let sending = $state(false);
</script>

<form
	method="POST"
	action="?/photo"
	enctype="multipart/form-data"
	class={more}
	use:enhance={async ({ formData }) => {
		sending = true;
		const photo = formData.get('photo');
		if (photo instanceof File) formData.set('photo', await shrunk(photo));
		return async ({ update }) => {
			await update();
			sending = false;
		};
	}}
>
	<input type="hidden" name="item" value={item} />
	<label class="button w-full justify-center py-2.5! {main ? 'button-main' : ''}">
		{sending ? 'Sending the photo …' : text}
		<input
			type="file"
			name="photo"
			accept="image/*"
			class="sr-only"
			aria-label={label}
			onchange={(e) => e.currentTarget.form?.requestSubmit()}
		/>
	</label>
</form>
