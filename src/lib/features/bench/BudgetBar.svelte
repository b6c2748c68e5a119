<script lang="ts">
	import { Rational } from '../../../core/exact/index.js';
	import type { QuantityVerdict } from '../../../core/check/index.js';
	import Num from '../../components/Num.svelte';

	let { q }: { q: QuantityVerdict } = $props();

	const PARTS = ['aim', 'source', 'resolution', 'instrument'] as const;
	const NAMES = { aim: 'aim', source: 'clock', resolution: 'recording', instrument: 'instrument' };
	const TONES = { aim: 'bg-accent-wash', source: 'bg-warn-wash', resolution: 'bg-rule', instrument: 'bg-well' };
	const unit = $derived(q.quantity === 'rate' ? 'ppm' : '%');
	const size = $derived(q.deviation.abs());
	const full = $derived(Math.max(q.budget.sum.toNumber(), size.toNumber()) * 1.06 || 1);
	const share = (value: Rational) => (100 * value.toNumber()) / full;
</script>

<div class="mt-1.5 text-[12.5px]" data-testid="budget-{q.quantity}">
	<div class="flex flex-wrap items-baseline gap-x-3">
		<b class="w-9">{q.quantity === 'rate' ? 'Rate' : 'Duty'}</b>
		<span>planned <Num value={q.planned} unit={q.quantity === 'rate' ? 'Hz' : '%'} digits={7} />,</span>
		<span class={q.within ? '' : 'font-bold text-fault'}
			>off by <Num value={q.deviation} {unit} digits={3} sign />; ± <Num value={q.budget.sum} {unit} digits={4} /> allowed</span
		>
	</div>
	<!-- The budget's parts end to end, and a mark where the deviation lies. -->
	<div class="relative mt-0.5 flex h-3 w-full overflow-hidden rounded-xs border" aria-hidden="true">
		{#each PARTS as part (part)}
			<span class={['h-full border-r', TONES[part]]} style:width="{share(q.budget[part])}%"></span>
		{/each}
		<span class={['absolute inset-y-0 w-1', q.within ? 'bg-ink' : 'bg-fault']} style:left="calc({share(size)}% - 2px)"></span>
	</div>
	<div class="flex flex-wrap gap-x-3 text-[11px] text-soft">
		{#each PARTS as part (part)}
			<span class="inline-flex items-center gap-1"
				><i class={['inline-block size-2.5 border', TONES[part]]}></i>{NAMES[part]} <Num value={q.budget[part]} {unit} digits={3} /></span
			>
		{/each}
	</div>
</div>
