<script lang="ts">
	import { MILLION, type Rational } from '../../../core/exact/index.js';
	import type { QuantityVerdict } from '../../../core/check/index.js';
	import Num from '../../components/Num.svelte';
	import { decimal, quantityName, shownText } from '../../text/index.js';

	let { q }: { q: QuantityVerdict } = $props();

	const PARTS = ['aim', 'source', 'rounding', 'recording', 'instrument'] as const;
	const NAMES = { aim: 'aim', source: 'clock', rounding: 'rounding', recording: 'recording', instrument: 'instrument' };
	const TONES = { aim: 'bg-accent-wash', source: 'bg-warn-wash', rounding: 'bg-card', recording: 'bg-rule', instrument: 'bg-well' };
	const held = $derived(q.asWished ?? q.asSet);
	const ratio = $derived(q.of === 'duty');
	/** A rate and a width are told in ppm of what they are held against. */
	const shown = (value: Rational) => (ratio || held.against.sign === 0 ? value : value.div(held.against).mul(MILLION));
	const unit = $derived(ratio ? '%' : 'ppm');
	const own = $derived(q.of === 'frequency' ? 'Hz' : ratio ? '%' : 's');

	type Part = (typeof PARTS)[number];
	function sides(part: Part): [Rational, Rational] {
		const value = held.budget[part];
		return Array.isArray(value) ? [value[0].neg(), value[1]] : [value, value];
	}
	const full = $derived(Math.max(...held.budget.sum.map((end) => end.abs().toNumber()), held.deviation.abs().toNumber()) * 1.06 || 1);
	/** Percent of the whole bar. */
	const share = (value: Rational) => (50 * value.toNumber()) / full;
	/** Do they look alike in the digits shown? */
	const alike = (a: Rational, b: Rational) => decimal(shown(a), 3) === decimal(shown(b), 3);
	const parts = $derived(PARTS.filter((part) => sides(part).some((side) => side.sign !== 0)));
</script>

<div class="mt-1.5 text-[12.5px]" data-testid="budget-{q.of}">
	<div class="flex flex-wrap items-baseline gap-x-2">
		<b class="w-9">{quantityName(q.of)}</b>
		<Num value={held.against} unit={own} digits={7} />
		<span class={held.within ? '' : 'font-bold text-fault'}
			>off by <Num value={shown(held.deviation)} {unit} digits={3} sign />; {@render span(held.budget.sum)} allowed</span
		>
		<span class="text-soft">{shownText(held)}</span>
	</div>
	<!-- The parts to either side of none, outwards, and a mark where the deviation lies. -->
	<div class="relative mt-0.5 flex h-3 w-full overflow-hidden rounded-xs border" aria-hidden="true">
		<span class="flex h-full w-1/2 flex-row-reverse border-r border-ink">
			{#each parts as part (part)}
				<span class={['h-full border-l', TONES[part]]} style:width="{2 * share(sides(part)[0])}%"></span>
			{/each}
		</span>
		<span class="flex h-full w-1/2">
			{#each parts as part (part)}
				<span class={['h-full border-r', TONES[part]]} style:width="{2 * share(sides(part)[1])}%"></span>
			{/each}
		</span>
		<span class={['absolute inset-y-0 w-1', held.within ? 'bg-ink' : 'bg-fault']} style:left="calc({50 + share(held.deviation)}% - 2px)"
		></span>
	</div>
	<div class="flex flex-wrap gap-x-3 text-[11px] text-soft">
		{#each parts as part (part)}
			{@const [low, high] = sides(part)}
			<span class="inline-flex items-center gap-1"
				><i class={['inline-block size-2.5 border', TONES[part]]}></i>{NAMES[part]} {@render span([low.neg(), high])}</span
			>
		{/each}
	</div>
</div>

{#snippet span([low, high]: [Rational, Rational])}
	{#if alike(low.neg(), high)}±&#8239;<Num value={shown(high)} {unit} digits={3} />{:else}<Num value={shown(low)} {unit} digits={3} sign /> to
		<Num value={shown(high)} {unit} digits={3} sign />{/if}
{/snippet}
