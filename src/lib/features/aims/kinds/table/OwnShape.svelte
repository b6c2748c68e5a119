<script lang="ts">
	import type { AimOf } from '../../../../../core/aims/index.js';
	import type { EditorProps } from '../view.js';

	let { session, aim }: EditorProps<AimOf<'table'>> = $props();

	const index = $derived(session.plan.aims.findIndex(({ id }) => id === aim.id));
	let fresh = true;

	async function load(files: FileList | null) {
		const text = await files?.[0]?.text();
		if (text !== undefined) session.set(['aims', index, 'own'], text.slice(0, 100_000), `load the shape of ${aim.name}`);
	}
</script>

<div class="mb-2 flex items-start gap-3 text-[13px]">
	<textarea
		class="h-24 w-72 rounded-xs border bg-card px-2 py-1 num text-[12.5px]"
		aria-label="Own shape of {aim.name}"
		placeholder="0&#10;0.5&#10;100 %&#10;-0.5, 850 us"
		value={aim.own}
		onfocus={() => (fresh = true)}
		oninput={(event) => {
			session.set(['aims', index, 'own'], event.currentTarget.value, `write the shape of ${aim.name}`, !fresh);
			fresh = false;
		}}></textarea>
	<div class="text-soft">
		<p>A value of −1 to 1 or a percent a line; after a comma a period of its own.</p>
		<label class="mt-1 btn inline-block cursor-pointer text-[12.5px]"
			>Load a CSV<input
				type="file"
				class="sr-only"
				accept=".csv,.txt,text/csv,text/plain"
				onchange={(event) => void load(event.currentTarget.files)}
			/></label
		>
	</div>
</div>
