<script lang="ts">
	import { Rational, type Hertz } from '../../../core/exact/index.js';
	import type { BenchView } from './benchView.svelte.js';
	import Num from '../../components/Num.svelte';

	/** `rhythm`: ticks and periods a second of what the readings are told in. */
	let { view, rhythm }: { view: BenchView; rhythm: { tickRate: Hertz | undefined; hz: Hertz | undefined } } = $props();

	/** Cursors stand on whole picoseconds. */
	const exact = (ps: number) => Rational.of(BigInt(Math.round(ps)), 10n ** 12n);
	const a = $derived(view.cursorA === undefined ? undefined : exact(view.cursorA - view.zero));
	const b = $derived(view.cursorB === undefined ? undefined : exact(view.cursorB - view.zero));
	const apart = $derived(a && b ? b.sub(a) : undefined);
</script>

<div class="flex min-w-0 items-center gap-3 overflow-hidden text-[12.5px] whitespace-nowrap" data-testid="cursors">
	{#if apart && apart.sign !== 0}
		<span><b>B − A</b> <Num value={apart} unit="s" digits={7} /></span>
		<span>= <Num value={apart.abs().inverse()} unit="Hz" digits={6} /></span>
		{#if rhythm.tickRate}<span>= <Num value={apart.mul(rhythm.tickRate)} unit="ticks" digits={6} /></span>{/if}
		{#if rhythm.hz}<span>= <Num value={apart.mul(rhythm.hz).mul(Rational.int(360))} unit="°" digits={5} /></span>{/if}
	{:else if a}
		<span><b>A</b> <Num value={a} unit="s" digits={9} /></span>
		{#if rhythm.tickRate}<span>= <Num value={a.mul(rhythm.tickRate)} unit="ticks" digits={7} /></span>{/if}
	{:else if b}
		<span><b>B</b> <Num value={b} unit="s" digits={9} /></span>
	{:else}
		<span class="text-soft">Click a wave for cursor A, Shift-click for B.</span>
	{/if}
</div>
