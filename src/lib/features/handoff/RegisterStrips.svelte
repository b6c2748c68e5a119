<script lang="ts">
	import type { Settled } from '../../../core/registers/index.js';
	import CopyText from '../../components/CopyText.svelte';
	import Hatch from '../../components/Hatch.svelte';
	import { fileName, saveFile } from '../../components/export.js';
	import { hex } from '../../text/index.js';
	import type { HandoffModel } from './handoff.svelte.js';
	import { registerTable } from '../../../core/handoff/index.js';
	import { tableAs } from './registerTable.js';

	/** Registers as strips of bits on graph paper: what the set-up decides hatched, what is kept plain, what was read solid. */
	let { model, name }: { model: HandoffModel; name: string } = $props();

	const settled = $derived(model.of.registers);
	const held = $derived(new Map(model.held?.registers.map((one) => [one.register.key, one]) ?? []));
	const table = $derived(registerTable(model.of));
	const [CELL, TALL] = [12, 22];
	const bitsOf = ({ register }: Settled) => Array.from({ length: register.bits }, (_, i) => register.bits - 1 - i);
	const has = (mask: bigint, bit: number) => ((mask >> BigInt(bit)) & 1n) === 1n;
	const at = (key: string, bit: number) =>
		(model.residents.get(key) ?? []).filter(({ bits }) => bits.some(({ high, low }) => bit >= low && bit <= high)).map((one) => one.name);
	const isLit = (key: string, bit: number) => at(key, bit).some((one) => model.lit.includes(one));
	/** Without its unit where all that live in a register are of one. */
	const shortOf = (key: string, name: string) => {
		const units = new Set((model.residents.get(key) ?? []).map((one) => one.name.split('.')[0]));
		return units.size > 1 ? name.replace('.', ' ') : name.slice(name.indexOf('.') + 1);
	};
	/** A lit register comes into sight. */
	let list: HTMLDivElement;
	$effect(() => {
		const [first] = model.lit;
		const key = first && settled.find(({ register }) => model.residents.get(register.key)?.some((one) => one.name === first))?.register.key;
		if (key) list.querySelector(`[data-register="${key}"]`)?.scrollIntoView({ block: 'nearest' });
	});
</script>

<h2 class="flex items-baseline gap-3 border-b px-3 py-1 text-[13px] font-bold">
	Registers <span class="font-normal text-soft">{settled.length} touched</span>
	<span class="ml-auto flex gap-2 font-normal">
		<CopyText text={tableAs('text', table)} label="copy" />
		<CopyText text={tableAs('markdown', table)} label="as Markdown" />
		<button
			type="button"
			class="text-[11.5px] text-soft underline decoration-dotted hover:text-accent"
			onclick={() => saveFile(`${fileName(name)}-registers.csv`, tableAs('csv', table), 'text/csv')}>CSV</button
		>
	</span>
</h2>
<div class="min-h-0 flex-1 overflow-y-auto px-3 py-1" bind:this={list} data-testid="registers">
	<svg width="0" height="0" class="absolute" aria-hidden="true"><defs><Hatch id="bit-hatch" /></defs></svg>
	{#each settled as one (one.register.key)}
		{@const { register, value, known, decided } = one}
		{@const word = value & (known | decided)}
		{@const read = held.get(register.key)}
		<div class="border-b py-1" data-register={register.key}>
			<p class="flex items-baseline gap-2 text-[12px]">
				<b>{register.key.split('.')[1]}</b>
				<span class="text-soft">{register.block}</span>
				<span class="num text-[11px] text-soft">{hex(register.address, 32)}</span>
				<span class="ml-auto num" title="{word.toString()} = 0b{word.toString(2).padStart(register.bits, '0')}"
					>{hex(word, register.bits)}</span
				>
				{#if read && read.known !== 0n}
					<span class={['num', read.differing === 0n ? 'text-soft' : 'font-bold text-fault']}
						>read {hex(read.read & read.known, register.bits)}</span
					>
				{/if}
			</p>
			<svg
				width={register.bits * CELL + 1}
				height={TALL + 1}
				class="block max-w-full"
				viewBox="0 0 {register.bits * CELL + 1} {TALL + 1}"
				role="img"
				aria-label="{register.key}: {hex(word, register.bits)}"
			>
				{#each bitsOf(one) as bit, i (bit)}
					{@const x = i * CELL + 0.5}
					<!-- svelte-ignore a11y_no_static_element_interactions -->
					<g onmouseenter={() => model.light(at(register.key, bit))}>
						<title>bit {bit}{at(register.key, bit).length > 0 ? `: ${at(register.key, bit).join(', ')}` : ''}</title>
						<rect
							{x}
							y="0.5"
							width={CELL}
							height={TALL}
							class={[
								'stroke-rule',
								read && has(read.differing, bit) ? 'fill-fault-wash' : isLit(register.key, bit) ? 'fill-accent-wash' : 'fill-card'
							]}
						/>
						{#if has(decided, bit)}<rect {x} y="0.5" width={CELL} height={TALL} fill="url(#bit-hatch)" class="pointer-events-none" />{/if}
						{#if read && has(read.known, bit) && has(read.read, bit)}
							<rect x={x + 2} y={TALL - 4} width={CELL - 4} height="3" class={has(read.differing, bit) ? 'fill-fault' : 'fill-ink'} />
						{/if}
						<text
							x={x + CELL / 2}
							y={TALL / 2 + 4}
							text-anchor="middle"
							class={['pointer-events-none text-[10.5px]', has(decided, bit) ? 'fill-ink font-bold' : 'fill-soft']}
							>{has(known, bit) || has(decided, bit) ? (has(value, bit) ? '1' : '0') : '·'}</text
						>
						{#if bit % 8 === 7 && i > 0}<line x1={x} x2={x} y1="0" y2={TALL + 1} class="stroke-soft" />{/if}
					</g>
				{/each}
			</svg>
			<p class="flex flex-wrap gap-x-3 text-[11px]">
				{#each model.residents.get(register.key) ?? [] as { name: own, value: said } (own)}
					<button
						type="button"
						class={model.lit.includes(own) ? 'font-bold text-accent' : 'text-soft hover:text-accent'}
						onmouseenter={() => model.light([own])}
						onfocus={() => model.light([own])}
						onclick={() => model.light([own])}>{shortOf(register.key, own)}{said === '' ? '' : ` ${said}`}</button
					>
				{/each}
			</p>
		</div>
	{/each}
</div>
