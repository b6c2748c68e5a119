<script lang="ts">
	import { hex } from '../../text/index.js';
	import CopyText from '../../components/CopyText.svelte';

	interface Register {
		name: string;
		value: number;
		/** In bits. */
		width: number;
	}
	let { registers }: { registers: Register[] } = $props();

	const binary = ({ value, width }: Register) =>
		value
			.toString(2)
			.padStart(width, '0')
			.replace(/(?=(.{4})+$)(?!^)/g, ' ');
	const byte = (value: number, at: number) => hex(Math.floor(value / 256 ** at) % 256, 8);
</script>

<div class="mt-3 min-w-0" data-testid="registers">
	<h3 class="mb-1 text-xs font-bold text-soft">Registers</h3>
	{#if registers.length > 0}
		<table class="w-full text-[12.5px]">
			<thead class="text-right text-xs text-soft [&_th]:px-1 [&_th]:font-normal [&_th]:whitespace-nowrap">
				<tr class="border-b"
					><th class="text-left">register</th><th>decimal</th><th>hex</th><th>binary</th><th>high</th><th>low</th><th></th></tr
				>
			</thead>
			<tbody class="num whitespace-nowrap [&_td]:px-1 [&_td]:py-0.5 [&_td]:text-right [&_tr]:border-b">
				{#each registers as register (register.name)}
					<tr>
						<td class="font-sans" style:text-align="left">{register.name}</td>
						<td>{register.value}</td>
						<td>{hex(register.value, register.width)}</td>
						<td class={register.width > 24 ? 'text-[9.5px]' : 'text-[11px]'}>{binary(register)}</td>
						<td>{byte(register.value, 1)}</td>
						<td>{byte(register.value, 0)}</td>
						<td class="font-sans"><CopyText text={hex(register.value, register.width)} label="copy" /></td>
					</tr>
				{/each}
			</tbody>
		</table>
	{:else}
		<p class="text-[13px] text-soft">No register is set yet.</p>
	{/if}
</div>
