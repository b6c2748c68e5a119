<script lang="ts">
	import { Rational } from '../../core/exact/index.js';
	import type { BenchLane } from '../state/lane.svelte.js';
	import type { BenchView } from '../state/view.svelte.js';
	import Num from './Num.svelte';

	let { view, lane }: { view: BenchView; lane: BenchLane | undefined } = $props();

	/** Cursors stand on whole picoseconds. */
	const exact = (ps: number) => Rational.of(BigInt(Math.round(ps)), 10n ** 12n);
	const a = $derived(view.cursorA === undefined ? undefined : exact(view.cursorA - view.zero));
	const b = $derived(view.cursorB === undefined ? undefined : exact(view.cursorB - view.zero));
	const apart = $derived(a && b ? b.sub(a) : undefined);
	const settings = $derived(lane?.derivation?.settings);
</script>

<div class="flex min-w-0 items-center gap-4 overflow-hidden text-[12.5px] whitespace-nowrap" data-testid="cursors">
	{#if apart && apart.sign !== 0}
		<span><b>B − A</b> <Num value={apart} unit="s" digits={8} /></span>
		<span>= <Num value={apart.abs().inverse()} unit="Hz" digits={7} /></span>
		{#if settings}
			<span>= <Num value={apart.mul(settings.tickRate)} unit="ticks" digits={6} /></span>
			<span>= <Num value={apart.mul(settings.hz).mul(Rational.int(360))} unit="°" digits={5} /></span>
		{/if}
	{:else if a}
		<span><b>A</b> <Num value={a} unit="s" digits={9} /></span>
	{:else if b}
		<span><b>B</b> <Num value={b} unit="s" digits={9} /></span>
	{:else}
		<span class="text-soft">Click a wave for cursor A, Shift-click for B; wheel zooms, drag moves.</span>
	{/if}
</div>
