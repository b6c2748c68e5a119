<script lang="ts">
	import type { Binding } from '../../../core/registers/index.js';
	import Hatch from '../../components/Hatch.svelte';
	import { hex } from '../../text/index.js';
	import { blockOf, placedAt, placesOf, unplaced, type Bound } from './bound.js';

	/** A register as bits on graph paper, with what lives in them: bits are chosen by a drag or the keys, and a quantity put there. */
	let {
		read,
		raw,
		bound,
		change,
		locked
	}: {
		read: Binding;
		raw: Record<string, unknown>;
		bound: readonly Bound[];
		change: (binding: Record<string, unknown>, label: string) => void;
		locked: boolean;
	} = $props();

	const [CELL, TALL, LETTER] = [26, 26, 5.6];
	let block = $state('');
	let name = $state('');
	/** The chosen bits, from where they were begun to where they end. */
	let chosen = $state.raw<{ from: number; to: number } | undefined>();
	let drawing = $state(false);
	let wanted = $state('');

	const blocks = $derived([...read.blocks.values()]);
	const shown = $derived(read.blocks.get(block) ?? blocks[0]);
	const registers = $derived([...(shown?.registers.values() ?? [])]);
	const register = $derived(shown?.registers.get(name) ?? registers[0]);
	const ownName = $derived(register?.key.slice(register.key.indexOf('.') + 1) ?? '');
	const fields = $derived([...(register?.fields.entries() ?? [])]);
	/** Stretches of the register that quantities have, the highest first. */
	const residents = $derived(
		[...read.units.values()]
			.flatMap(({ id, values }) =>
				[...values.values()].flatMap(({ quantity, pieces, width }) => {
					let left = width;
					return pieces.flatMap((place) => {
						left -= place.high - place.low + 1;
						const { high, low, register: at } = place;
						// Of a number that is cut in pieces only some bits are here.
						const part = pieces.length > 1 ? `${left + high - low}:${left} of ${width} bits` : '';
						return at.key === register?.key ? [{ unit: id, quantity, high, low, part }] : [];
					});
				})
			)
			.sort((a, b) => b.high - a.high)
	);
	/** Names of what lives in the bits, and of fields that nothing lives in, in rows in which none lies on another. */
	const labels = $derived.by(() => {
		if (!register) return [];
		const free = fields.filter(([, { high: top, low: bottom }]) => !residents.some((one) => one.low <= top && one.high >= bottom));
		const all = [
			...residents.map((one) => ({ text: one.quantity, high: one.high, bound: true })),
			...free.map(([text, one]) => ({ text, high: one.high, bound: false }))
		];
		const ends: number[] = [];
		return all
			.sort((a, b) => b.high - a.high)
			.map(({ text, high: top, bound: lives }) => {
				const wide = text.length * LETTER;
				// A name at the right end begins further left.
				const x = Math.max(1, Math.min((register.bits - 1 - top) * CELL + 3, register.bits * CELL - wide));
				const at = ends.findIndex((end) => end < x);
				const row = at < 0 ? ends.length : at;
				ends[row] = x + wide;
				return { text, x, row, bound: lives };
			});
	});
	const rows = $derived(labels.reduce((most, { row }) => Math.max(most, row + 1), 1));
	const high = $derived(chosen ? Math.max(chosen.from, chosen.to) : 0);
	const low = $derived(chosen ? Math.min(chosen.from, chosen.to) : 0);
	const inside = $derived(chosen ? residents.filter((one) => one.low <= high && one.high >= low) : []);
	/** Units that live in this block, and all their quantities; those without a place first. */
	const offered = $derived(
		bound
			.filter(({ unit }) => (blockOf(raw, unit) ?? shown?.name) === shown?.name)
			.flatMap(({ unit, lacks, all }) => [
				...lacks.map((quantity) => ({ unit, quantity, has: false })),
				...all.filter((one) => !lacks.includes(one)).map((quantity) => ({ unit, quantity, has: true }))
			])
	);

	const asked = $derived({ unit: wanted.slice(0, wanted.indexOf(' ')), quantity: wanted.slice(wanted.indexOf(' ') + 1) });
	const before = $derived(read.units.get(asked.unit)?.values.get(asked.quantity)?.pieces ?? []);

	/** `below`: the bits join those that the quantity has already, as the lower ones. */
	function put(below: boolean) {
		const { unit, quantity } = asked;
		if (!register || !chosen || quantity === '') return;
		const places = placesOf([...(below ? before : []), { register, high, low }], blockOf(raw, unit) ?? shown.name);
		change(placedAt(raw, unit, shown.name, quantity, places.length === 1 ? places[0] : places), `place ${quantity} of ${unit}`);
	}

	function move(event: KeyboardEvent, bit: number) {
		const by = event.key === 'ArrowLeft' ? 1 : event.key === 'ArrowRight' ? -1 : 0;
		if (event.key === ' ' || event.key === 'Enter') chosen = { from: bit, to: bit };
		else if (by !== 0 && register) {
			const next = Math.min(register.bits - 1, Math.max(0, (event.shiftKey && chosen ? chosen.to : bit) + by));
			chosen = event.shiftKey && chosen ? { from: chosen.from, to: next } : { from: next, to: next };
			(event.currentTarget as Element).parentElement?.querySelector<SVGElement>(`[data-bit="${next}"]`)?.focus();
		} else return;
		event.preventDefault();
	}
</script>

<svelte:window onpointerup={() => (drawing = false)} />
<h3 class="pt-3 font-bold">Registers, bit by bit</h3>
{#if register}
	<div class="flex flex-wrap items-center gap-2 py-1">
		<select
			class="field"
			aria-label="Block"
			value={shown.name}
			onchange={(e) => ([block, name, chosen] = [e.currentTarget.value, '', undefined])}
		>
			{#each blocks as one (one.name)}<option>{one.name}</option>{/each}
		</select>
		<select class="field" aria-label="Register" value={ownName} onchange={(e) => ([name, chosen] = [e.currentTarget.value, undefined])}>
			{#each registers as one (one.key)}<option>{one.key.slice(one.key.indexOf('.') + 1)}</option>{/each}
		</select>
		<span class="num text-soft">{hex(register.address, 32)}, {register.bits} bits</span>
	</div>
	<svg
		width={register.bits * CELL + 2}
		height={TALL + 18 + rows * 10}
		class="block max-w-full select-none"
		role="group"
		aria-label="Bits of {register.key}"
		data-testid="bit-drawing"
	>
		<defs><Hatch id="bound-hatch" /></defs>
		{#each residents as one (`${one.unit} ${one.quantity} ${one.high}`)}
			<rect
				x={(register.bits - 1 - one.high) * CELL + 1}
				y="13"
				width={(one.high - one.low + 1) * CELL}
				height={TALL}
				fill="url(#bound-hatch)"
				class="text-accent"
			/>
		{/each}
		{#each labels as { text, x, row, bound: lives } (`${x} ${row}`)}
			<text {x} y={TALL + 23 + row * 10} class="text-[9px] {lives ? 'fill-ink' : 'fill-soft italic'}">{text}</text>
		{/each}
		{#each Array.from({ length: register.bits }, (_, k) => register.bits - 1 - k) as bit (bit)}
			{@const x = (register.bits - 1 - bit) * CELL + 1}
			<text x={x + CELL / 2} y="9" text-anchor="middle" class="fill-soft text-[8.5px]">{bit}</text>
			<rect
				{x}
				y="13"
				width={CELL}
				height={TALL}
				data-bit={bit}
				tabindex={bit === (chosen?.to ?? register.bits - 1) ? 0 : -1}
				role="button"
				aria-label="Bit {bit}{residents
					.filter((one) => bit >= one.low && bit <= one.high)
					.map((one) => `, ${one.unit} ${one.quantity}`)
					.join('')}"
				aria-pressed={chosen !== undefined && bit >= low && bit <= high}
				class="cursor-pointer outline-offset-[-2px] {chosen && bit >= low && bit <= high
					? 'fill-accent/35'
					: 'fill-transparent'} stroke-rule"
				onpointerdown={() => ([chosen, drawing] = [{ from: bit, to: bit }, true])}
				onpointerenter={() => drawing && chosen && (chosen = { from: chosen.from, to: bit })}
				onkeydown={(event) => move(event, bit)}
			/>
		{/each}
	</svg>
	<div class="flex min-h-8 flex-wrap items-center gap-2 py-1" data-testid="bit-choice">
		{#if chosen}
			<b class="num">{ownName}[{high === low ? high : `${high}:${low}`}]</b>
			{#each inside as one (`${one.unit} ${one.quantity} ${one.high}`)}
				<span
					>{one.unit}
					{one.quantity}{#if one.part}<span class="text-soft">, {one.part}</span>{/if}</span
				>
				{#if !locked}<button
						type="button"
						class="text-accent underline"
						onclick={() => change(unplaced(raw, one.unit, one.quantity), `no place for ${one.quantity} of ${one.unit}`)}>take away</button
					>{/if}
			{:else}<span class="text-soft">nothing lives here</span>{/each}
			{#if !locked}
				<select class="field ml-3" aria-label="What lives here" bind:value={wanted}>
					<option value="">put here …</option>
					{#each offered as { unit, quantity, has } (`${unit} ${quantity}`)}
						<option value="{unit} {quantity}">{unit} {quantity}{has ? ' (has a place)' : ''}</option>
					{/each}
				</select>
				<button type="button" class="btn py-0" disabled={wanted === ''} onclick={() => put(false)}>Put</button>
				{#if before.length > 0}<button
						type="button"
						class="btn py-0"
						title="The number is cut: these are its lowest bits"
						onclick={() => put(true)}>Add as lower bits</button
					>{/if}
			{/if}
		{:else}<span class="text-soft"
				>Drag over bits, or use the arrow keys with Shift, to see what lives there{locked ? '' : ' or to put something there'}.</span
			>{/if}
	</div>
{:else}<p class="text-soft">No block has a register yet.</p>{/if}
