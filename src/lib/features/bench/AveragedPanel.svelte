<script lang="ts">
	import type { AimChart, AimOf } from '../../../core/aims/index.js';
	import { Rational } from '../../../core/exact/index.js';
	import type { PlanPrediction } from './prediction.svelte.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { choice, field, type Token } from '../../components/tokens.js';
	import CurveChart from '../../components/CurveChart.svelte';
	import Num from '../../components/Num.svelte';
	import Sentence from '../../components/Sentence.svelte';

	/** A shape as a filter makes it of the pin: the averaged signal, its spectrum and its distortion. */
	let { session, prediction, aim }: { session: PlanSession; prediction: PlanPrediction; aim: AimOf<'table'> } = $props();

	const index = $derived(session.plan.aims.findIndex(({ id }) => id === aim.id));
	const found = $derived(prediction.averages.find((one) => one.aim === aim.id));
	const fields = $derived(session.derivation.aims.find((one) => one.aim.id === aim.id)?.fields ?? {});
	const FLOOR = 1e-5;

	const tokens = $derived<Token[]>([
		'Averaged by',
		choice('filter', 'Filter', aim.filter, [
			['rc', 'a resistor and a capacitor'],
			['lc', 'a coil and a capacitor']
		]),
		':',
		...(aim.filter === 'lc'
			? [field('inductance', 'Coil'), ',', field('capacitance', 'Capacitor'), ', loaded with', field('resistance', 'Load')]
			: [field('resistance', 'Resistor'), ',', field('capacitance', 'Capacitor')]),
		'.'
	]);

	const wave = $derived<AimChart | undefined>(
		found && {
			code: 'averaged',
			series: [
				{
					label: 'behind the filter',
					points: found.filtered.map((v, i): [number, number] => [((i * found.seconds) / found.filtered.length) * 1000, 100 * v])
				},
				{ label: 'mean of each period', points: found.means.map(([t, v]): [number, number] => [1000 * t, 100 * v]) }
			]
		}
	);
	const spectrum = $derived<AimChart | undefined>(
		found && {
			code: 'spectrum',
			series: (['after', 'pin'] as const).map((which) => ({
				label: which === 'pin' ? 'the pin' : 'behind the filter',
				points: found[which].amplitudes.flatMap((a, i): [number, number][] => (a > FLOOR ? [[(i + 1) * found[which].base, 100 * a]] : []))
			}))
		}
	);
	const ripple = $derived(found ? Math.max(...found.filtered) - Math.min(...found.filtered) : 0);
	/** Doubles, rounded to what they are good for. */
	const rounded = (value: number) => Rational.parse(value.toPrecision(6));

	function set(key: string, text: string, merge: boolean) {
		session.set(['aims', index, key], text, `set the filter of ${aim.name}`, merge);
	}
</script>

<div class="grid h-full min-h-0 grid-cols-[15rem_minmax(0,1fr)_minmax(0,1fr)] gap-4 overflow-y-auto px-4 py-1" data-testid="averaged">
	<div>
		<Sentence
			small
			{tokens}
			name={aim.name}
			valueOf={(key) => String((aim as unknown as Record<string, unknown>)[key] ?? '')}
			problems={fields}
			onType={(key, text, first) => set(key, text, !first)}
			onChoose={(key, value) => set(key, value, false)}
		/>
		{#if found}
			<table class="w-full text-[12.5px]" title="Worked out in floating point from the predicted edges; rounded to six digits">
				<tbody class="[&_td]:py-0.5 [&_td:last-child]:text-right [&_tr]:border-b">
					<tr
						><td>{found.filter.kind === 'rc' ? 'Corner' : 'Resonance'}</td><td
							><Num value={rounded(found.corner)} unit="Hz" digits={5} /></td
						></tr
					>
					<tr><td>First harmonic</td><td><Num value={rounded(found.after.base)} unit="Hz" digits={5} /></td></tr>
					<tr><td>Its size, of the supply</td><td><Num value={rounded(found.after.amplitudes[0])} unit="%" digits={5} /></td></tr>
					<tr><td>From least to most</td><td><Num value={rounded(ripple)} unit="%" digits={5} /></td></tr>
					{#if !Number.isNaN(found.after.distortion)}
						<tr
							><td>Total harmonic distortion</td><td class="font-bold"
								><Num value={rounded(found.after.distortion)} unit="%" digits={4} /></td
							></tr
						>
						<tr><td class="text-soft">of the pin itself</td><td><Num value={rounded(found.pin.distortion)} unit="%" digits={4} /></td></tr>
					{/if}
				</tbody>
			</table>
			<p class="mt-1 text-[11.5px] text-soft">Harmonics 2 to {found.after.amplitudes.length}, once the filter has settled.</p>
		{:else}
			<p class="text-[13px] text-soft">Nothing is averaged yet: the shape is not derived, or has not come round three times.</p>
		{/if}
	</div>
	<div class="min-w-0 pt-1">
		{#if wave}<CurveChart chart={wave} name={aim.name} />{/if}
	</div>
	<div class="min-w-0 pt-1">
		{#if spectrum}<CurveChart chart={spectrum} name={aim.name} />{/if}
	</div>
</div>
