<script lang="ts">
	import { kindOf, type AimOf } from '../../../../../core/aims/index.js';
	import type { EditorProps } from '../view.js';

	let { session, aim }: EditorProps<AimOf<'table'>> = $props();

	const index = $derived(session.plan.aims.findIndex(({ id }) => id === aim.id));
	const timer = $derived(session.plan.part.timers.find(({ id }) => id === aim.timer));
	const channels = $derived(timer ? kindOf(aim).channelsOn(timer) : []);
	/** Channels that no output of the shape has yet. */
	const open = $derived(channels.filter(({ id }) => id !== aim.channel && id !== aim.second && !aim.further.includes(id)));
	let fresh = true;

	async function load(files: FileList | null) {
		const text = await files?.[0]?.text();
		if (text !== undefined) session.set(['aims', index, 'own'], text.slice(0, 100_000), `load the shape of ${aim.name}`);
	}

	function nameOf(id: string): string {
		return channels.find((one) => one.id === id)?.name ?? id;
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
		<p>A line a row: a value of −1 to 1 or a percent an output, parted by commas; a time or a rate is the row’s own period.</p>
		<div class="mt-1 flex flex-wrap items-center gap-2" role="group" aria-label="Columns of {aim.name}">
			<span>Columns: {nameOf(aim.channel)}</span>
			{#each aim.further as id, i (id)}
				<span
					>{nameOf(id)}
					<button
						type="button"
						class="underline hover:text-accent"
						aria-label="Remove the column of {nameOf(id)}"
						onclick={() => session.remove(['aims', index, 'further', i], `take ${nameOf(id)} out of ${aim.name}`)}>remove</button
					></span
				>
			{/each}
			{#if open.length > 0}
				<select
					class="plain-select text-[13px]"
					aria-label="Further output of {aim.name}"
					value=""
					onchange={(event) => {
						const id = event.currentTarget.value;
						event.currentTarget.value = '';
						if (id) session.insert(['aims', index, 'further', aim.further.length], id, `give ${aim.name} ${nameOf(id)} too`);
					}}
				>
					<option value="">and a further output</option>
					{#each open as { id, name } (id)}<option value={id}>{name}</option>{/each}
				</select>
			{/if}
		</div>
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
