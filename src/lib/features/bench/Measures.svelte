<script lang="ts">
	import { Rational } from '../../../core/exact/index.js';
	import type { Statistics } from '../../../core/measure/index.js';
	import type { RecordedLane } from './recordedLane.svelte.js';
	import Num from '../../components/Num.svelte';

	let { lane }: { lane: RecordedLane } = $props();

	const low = $derived(lane.derivation?.pulse?.activeLow ?? false);
	const rows = $derived.by((): [string, string, Statistics | null][] => {
		const m = lane.measures;
		if (!m) return [];
		return [
			['Frequency', 'Hz', m.frequency],
			['Period', 's', m.period],
			[low ? 'On-time (low)' : 'On-time (high)', 's', low ? m.low : m.high],
			[low ? 'Off-time (high)' : 'Off-time (low)', 's', low ? m.high : m.low],
			['Duty (high)', '%', m.duty]
		];
	});
	/** A standard deviation is rounded as it is; this keeps a few of its digits. */
	const spread = (value: number) => Rational.parse(value.toPrecision(3));
</script>

<section class="min-h-0 min-w-0 overflow-auto px-3 py-2" aria-label="Measured" data-testid="measures">
	<h2 class="mb-1 text-[13px] font-bold">Measured</h2>
	{#if lane.measures && !lane.measures.period}
		<p class="text-[13px] text-soft">
			No whole period from rise to rise: {lane.measures.rises}
			{lane.measures.rises === 1 ? 'rise' : 'rises'} in the window.
		</p>
	{:else}
		<table class="w-full text-[12px]">
			<thead>
				<tr class="border-b text-xs text-soft [&_th]:pl-1.5 [&_th]:text-right [&_th]:font-normal"
					><th class="text-left!"><span class="sr-only">quantity</span></th><th>mean</th><th>min</th><th>max</th><th
						title="standard deviation, rounded">spread</th
					><th>count</th></tr
				>
			</thead>
			<tbody>
				{#each rows as [name, unit, found] (name)}
					{#if found}
						<tr class="border-b [&_td]:py-0.5 [&_td]:pl-1.5 [&_td]:text-right">
							<th class="text-left font-normal whitespace-nowrap">{name}</th>
							<td class="font-bold"><Num value={found.mean} {unit} digits={7} /></td>
							<td><Num value={found.min} {unit} digits={6} /></td>
							<td><Num value={found.max} {unit} digits={6} /></td>
							<td><Num value={spread(found.deviation)} {unit} digits={2} /></td>
							<td class="num">{found.count}</td>
						</tr>
					{/if}
				{/each}
			</tbody>
		</table>
	{/if}
</section>
