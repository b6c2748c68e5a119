<script lang="ts">
	import { Rational } from '../../../core/exact/index.js';
	import type { PlainCheck } from '../../../core/suspects/index.js';
	import InTurn from '../../components/InTurn.svelte';
	import Num from '../../components/Num.svelte';
	import ErrorChart from './ErrorChart.svelte';

	type Difference = PlainCheck['differences'][number];
	interface Props {
		check: PlainCheck;
		nameOf: (aim: string) => string;
		recordingName: (id: string) => string;
		byHand: (id: string) => boolean;
		/** Shows one on the waves. */
		onShow: (one: Difference) => void;
	}
	let { check, nameOf, recordingName, byHand, onShow }: Props = $props();

	/** Below this a double of seconds or ppm is nothing but rounding. */
	const FINEST = 1e-14;
	/** Rows that are drawn at the most. */
	const MOST = 400;
	const exact = (value: number) => (Math.abs(value) < FINEST ? Rational.zero : Rational.parse(value.toPrecision(9)));
	const WORD = { late: 'late', early: 'early', missing: 'missing', extra: 'not planned', glitch: 'glitch' };
</script>

<div class="min-h-0 flex-1 overflow-auto px-3 py-1.5 text-[12.5px]" data-testid="differences">
	{#each check.alignment as one (one.recording)}
		<p class="text-soft">
			<b class="text-ink">{recordingName(one.recording)}</b>
			{#if one.fits}
				{byHand(one.recording) ? 'was laid by hand: it' : ''} lies on the plan from <Num value={exact(one.offset_s)} unit="s" digits={5} />,
				its clock <Num value={exact(one.ratio_ppm)} unit="ppm" digits={4} sign />
				{#if one.ratio_known_ppm}(known to <Num value={exact(one.ratio_known_ppm[0])} unit="ppm" digits={5} sign /> … <Num
						value={exact(one.ratio_known_ppm[1])}
						unit="ppm"
						digits={5}
						sign
					/>){/if};
				{@const [low, high] = one.ratio_allowed_ppm}
				<span class={one.ratio_ppm < low || one.ratio_ppm > high ? 'text-fault' : ''}
					>source and instrument allow <Num value={exact(low)} unit="ppm" digits={3} sign /> … <Num
						value={exact(high)}
						unit="ppm"
						digits={3}
						sign
					/></span
				>;
				{one.matched} edges matched, {one.missing} missing, {one.extra} extra{(one.places ?? 1) > 1
					? `; it fits ${one.places} places nearly as well`
					: ''}.
			{:else}
				does not lie on the plan anywhere: half of its edges or more are elsewhere.
			{/if}
		</p>
		{#if one.errors && one.matched}
			<details class="mb-1">
				<summary class="cursor-pointer text-[12px] text-accent">how far its edges lie from their places</summary>
				<InTurn><ErrorChart errors={one.errors} name={recordingName(one.recording)} /></InTurn>
			</details>
		{/if}
	{/each}
	{#if check.differences.length > 0}
		<table class="mt-2 w-full">
			<thead
				><tr class="border-b text-left text-soft"
					><th class="font-normal">at</th><th class="font-normal">line</th><th class="font-normal">what</th><th class="font-normal">by</th
					></tr
				></thead
			>
			<tbody>
				{#each check.differences.slice(0, MOST) as one, i (i)}
					<tr class="border-b">
						<td><Num value={exact(one.at_s)} unit="s" digits={6} /></td>
						<td><button type="button" class="text-accent underline" onclick={() => onShow(one)}>{nameOf(one.aim)}: {one.line}</button></td>
						<td>{WORD[one.kind]}</td>
						<td
							>{#if one.off_s !== undefined}<Num value={exact(one.off_s)} unit="s" digits={3} sign />{/if}</td
						>
					</tr>
				{/each}
			</tbody>
		</table>
	{:else}
		<p class="mt-2">No edge lies elsewhere than it should.</p>
	{/if}
</div>
