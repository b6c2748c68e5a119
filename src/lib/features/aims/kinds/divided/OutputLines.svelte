<script lang="ts">
	import type { AimOf } from '../../../../../core/aims/index.js';
	import type { EditorProps } from '../view.js';
	import { problemText } from '../../../../text/index.js';
	import TypedField from '../../../../components/TypedField.svelte';

	let { session, aim, fields }: EditorProps<AimOf<'divided'>> = $props();

	const index = $derived(session.plan.aims.findIndex(({ id }) => id === aim.id));
	const MOST = 64;

	function add() {
		const number = aim.outputs.length + 1;
		const output = { id: crypto.randomUUID(), name: `output ${number}`, pin: '', width: aim.outputs[aim.outputs.length - 1].width };
		session.insert(['aims', index, 'outputs', aim.outputs.length], output, `add an output to ${aim.name}`);
	}
</script>

<ul class="mb-2 grid gap-1 font-serif text-[15px]" aria-label="Outputs of {aim.name}">
	{#each aim.outputs as output, i (output.id)}
		<li>
			<TypedField
				label="Name of output {i + 1}"
				least={8}
				value={output.name}
				onInput={(text, first) => session.set(['aims', index, 'outputs', i, 'name'], text, `name an output of ${aim.name}`, !first)}
			/>
			on pin
			<TypedField
				label="Pin of {output.name}"
				least={3}
				value={output.pin}
				onInput={(text, first) => session.set(['aims', index, 'outputs', i, 'pin'], text, `set the pin of ${output.name}`, !first)}
			/>
			high for
			<TypedField
				label="Width of {output.name}"
				value={output.width}
				problem={fields[`outputs.${i}.width`] && problemText(fields[`outputs.${i}.width`])}
				onInput={(text, first) => session.set(['aims', index, 'outputs', i, 'width'], text, `set the width of ${output.name}`, !first)}
			/>
			{#if aim.outputs.length > 1}
				<button
					type="button"
					class="font-sans text-[12.5px] text-soft underline hover:text-accent"
					aria-label="Remove {output.name}"
					onclick={() => session.remove(['aims', index, 'outputs', i], `remove ${output.name}`)}>remove</button
				>
			{/if}
		</li>
	{/each}
	{#if aim.outputs.length < MOST}
		<li><button type="button" class="btn font-sans text-[12.5px]" onclick={add}>Add an output</button></li>
	{/if}
</ul>
