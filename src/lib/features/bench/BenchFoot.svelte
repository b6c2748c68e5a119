<script lang="ts">
	import { Rational } from '../../../core/exact/index.js';
	import type { PlanPrediction } from './prediction.svelte.js';
	import { seconds } from '../../text/index.js';

	/** How far the plan is predicted, below the waves. */
	let { prediction }: { prediction: PlanPrediction } = $props();

	const fine = $derived(prediction.unplanned.some(({ why }) => why === 'base-too-fine'));
	const waiting = $derived(prediction.unplanned.filter(({ why }) => why === 'not-derived').length);
</script>

{#if fine}
	<p class="px-3 py-1 text-[12px] text-warn">
		The clocks of this plan have no common multiple that can be counted to the cycle for an hour: nothing is predicted. A source whose rate
		is a rounder number would mend that.
	</p>
{:else if prediction.state.kind === 'failed'}
	<p class="px-3 py-1 text-[12px] text-fault">The plan could not be predicted: {prediction.state.reason}</p>
{:else if prediction.state.kind === 'loading' && (prediction.lanes.length === 0 || prediction.reached < 3600)}
	<p class="px-3 py-1 text-[12px] text-soft">
		Predicting, {prediction.reached.toFixed(1)} s of an hour …
		<button type="button" class="underline" onclick={() => prediction.stop()}>Stop</button>
	</p>
{:else if prediction.lanes.length > 0}
	<p class="px-3 py-1 text-[11px] text-soft" data-testid="planned-foot">
		Predicted to the cycle for {seconds(Rational.ratio(Math.round(prediction.reached * 1000), 1000), 5)}{prediction.state.kind === 'stopped'
			? ', as far as edges were counted'
			: ''}.{waiting > 0 ? ` ${waiting} ${waiting === 1 ? 'aim is' : 'aims are'} not derived yet.` : ''}
		Press a name for what comes to its inputs or is written while it runs; ▸ shows its counter and events.
	</p>
{/if}
