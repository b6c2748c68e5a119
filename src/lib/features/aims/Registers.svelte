<script lang="ts">
	import { registerForms } from '../../text/index.js';
	import CopyText from '../../components/CopyText.svelte';

	interface Register {
		name: string;
		value: number;
		/** In bits. */
		width: number;
	}
	let { registers }: { registers: Register[] } = $props();

	const rows = $derived(registers.map((register) => ({ ...register, ...registerForms(register) })));
	/** The widest register decides how many bytes are shown. */
	const bytes = $derived(Math.max(1, ...rows.map((row) => row.bytes.length)));
</script>

<div class="mt-3 min-w-0" data-testid="registers">
	<h3 class="mb-1 text-xs font-bold text-soft">Registers</h3>
	{#if registers.length > 0}
		<table class="w-full text-[12.5px]">
			<thead class="text-right text-xs text-soft [&_th]:px-1 [&_th]:font-normal [&_th]:whitespace-nowrap">
				<tr class="border-b"
					><th class="text-left">register</th><th>decimal</th><th>hex</th><th>binary</th><th
						>{bytes === 1 ? 'byte' : 'bytes, high to low'}</th
					><th><span class="sr-only">copy</span></th></tr
				>
			</thead>
			<tbody class="num whitespace-nowrap [&_td]:px-1 [&_td]:py-0.5 [&_td]:text-right [&_tr]:border-b">
				{#each rows as register (register.name)}
					<tr>
						<td class="font-sans" style:text-align="left">{register.name}</td>
						<td>{register.decimal}</td>
						<td>{register.hex}</td>
						<td class={register.width > 24 ? 'text-[9.5px]' : 'text-[11px]'}>{register.binary}</td>
						<td class={register.bytes.length > 2 ? 'text-[11px]' : ''}>{register.bytes.join(' ')}</td>
						<td class="font-sans"><CopyText text={register.hex} label="copy" /></td>
					</tr>
				{/each}
			</tbody>
		</table>
	{:else}
		<p class="text-[13px] text-soft">No register is set yet.</p>
	{/if}
</div>
