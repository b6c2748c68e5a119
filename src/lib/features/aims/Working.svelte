<script lang="ts">
	import type { Derivation } from '../../../core/plan/index.js';
	import { Rational } from '../../../core/exact/index.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { decimal, hertz, percent, seconds } from '../../text/index.js';
	import InTurn from '../../components/InTurn.svelte';
	import Num from '../../components/Num.svelte';
	import Choosing from './Choosing.svelte';
	import Registers from './Registers.svelte';
	import Settings from './Settings.svelte';

	interface Props {
		session: PlanSession;
		derivation: Derivation;
	}
	let { session, derivation }: Props = $props();

	const { aim, settings, kernel, wish, counting } = $derived(derivation);
	const question = $derived(
		counting && kernel && wish.hz
			? {
					counting,
					kernel,
					wish: wish.hz,
					...(wish.tolerance && { tolerance: wish.tolerance }),
					...(wish.bits !== undefined && { bits: wish.bits }),
					...(settings && { now: settings })
				}
			: undefined
	);
	const width = $derived(derivation.timer?.width ?? 16);
	const registers = $derived(
		settings
			? [
					...(settings.prescaleCode === null ? [] : [{ name: 'Prescale', value: settings.prescaleCode, width: 16 }]),
					{ name: 'Reload', value: settings.reload, width },
					{ name: 'Compare', value: settings.compare, width },
					...(settings.begin ? [{ name: 'Compare at first', value: settings.begin.compare, width }] : []),
					...(settings.sweep ? [{ name: 'Compare at the end of the sweep', value: settings.sweep.compare, width }] : [])
				]
			: []
	);

	/** The formulas with the numbers in them, a line each. */
	const formulas = $derived.by(() => {
		if (!settings || !kernel || !wish.hz || !counting || !wish.duty) return [];
		const { prescale, reload, ticks, compare, activeTicks } = settings;
		const divide = `${hertz(kernel)} ÷ (${prescale} × ${hertz(wish.hz)})`;
		const exact = kernel.div(Rational.int(prescale)).div(wish.hz);
		const fits = exact.equals(Rational.int(ticks));
		const period = `T = f_k ÷ (P × f) = ${divide} = ${decimal(exact, 8)}${fits ? '' : ` → ${ticks}`} ticks`;
		const rule =
			counting.mode === 'updown'
				? ['T ÷ 2', `${ticks} ÷ 2`]
				: counting.rule === 'inclusive'
					? ['T − 1', `${ticks} − 1`]
					: ['T', `${ticks}`];
		const duty = wish.duty;
		const from =
			duty.kind === 'ratio'
				? `duty × T = ${percent(duty.ratio)} × ${ticks}`
				: duty.kind === 'on'
					? `on-time × f_k ÷ P = ${seconds(duty.seconds)} × ${hertz(settings.tickRate)}`
					: duty.kind === 'off'
						? `T − off-time × f_k ÷ P = ${ticks} − ${seconds(duty.seconds)} × ${hertz(settings.tickRate)}`
						: 'as wished';
		const rounded = settings.wantedTicks.equals(Rational.int(activeTicks)) ? '' : ` → ${activeTicks}`;
		const lines = [
			period,
			`reload = ${rule[0]} = ${rule[1]} = ${reload}`,
			`active ticks = ${from} = ${decimal(settings.wantedTicks, 8)}${rounded}; compare = ${compare}`
		];
		return lines.map((line) => line.replaceAll('= ≈', '≈ '));
	});
</script>

<div class="mt-3 grid grid-cols-[minmax(0,1fr)_minmax(0,1.15fr)] gap-5">
	<div class="min-w-0">
		<h3 class="mb-1 text-xs font-bold text-soft">Working</h3>
		{#if settings}
			<ul class="grid gap-0.5 num text-[12.5px]" data-testid="formulas">
				{#each formulas as line (line)}<li class="break-words">{line}</li>{/each}
			</ul>
			<table class="mt-3 w-full text-[13px]">
				<thead>
					<tr class="border-b text-left text-xs text-soft"
						><th></th><th class="text-right font-normal">wished</th><th class="text-right font-normal">achieved</th><th
							class="text-right font-normal">off by</th
						></tr
					>
				</thead>
				<tbody class="[&_td]:py-0.5 [&_td]:text-right [&_th]:font-normal [&_tr]:border-b">
					<tr>
						<th class="text-left">Rate</th>
						<td
							>{#if wish.hz}<Num value={wish.hz} unit="Hz" />{/if}</td
						>
						<td><Num value={settings.hz} unit="Hz" /></td>
						<td><Num value={settings.ppm} unit="ppm" digits={4} sign /></td>
					</tr>
					<tr>
						<th class="text-left">Period</th>
						<td
							>{#if wish.hz}<Num value={wish.hz.inverse()} unit="s" />{/if}</td
						>
						<td><Num value={settings.period} unit="s" /></td>
						<td
							>{#if wish.hz}<Num value={settings.period.sub(wish.hz.inverse())} unit="s" digits={4} sign />{/if}</td
						>
					</tr>
					<tr>
						<th class="text-left">Duty</th>
						<td><Num value={settings.duty.sub(settings.dutyError)} unit="%" digits={5} /></td>
						<td><Num value={settings.duty} unit="%" digits={5} /></td>
						<td><Num value={settings.dutyError} unit="%" digits={4} sign /></td>
					</tr>
					<tr>
						<th class="text-left">On-time</th>
						<td><Num value={settings.wantedTicks.div(settings.tickRate)} unit="s" /></td>
						<td><Num value={settings.onTime} unit="s" /></td>
						<td><Num value={Rational.int(settings.activeTicks).sub(settings.wantedTicks)} unit="ticks" digits={4} sign /></td>
					</tr>
					<tr>
						<th class="text-left">0 % and 100 % give</th>
						<td></td>
						<td><Num value={Rational.ratio(settings.leastActive, settings.ticks)} unit="%" digits={5} /></td>
						<td><Num value={Rational.ratio(settings.mostActive, settings.ticks)} unit="%" digits={6} /></td>
					</tr>
					{#if settings.begin}
						<tr>
							<th class="text-left">At first</th>
							<td></td>
							<td><Num value={settings.begin.duty} unit="%" digits={5} /></td>
							<td class="num">compare {settings.begin.compare}</td>
						</tr>
					{/if}
					{#if settings.sweep}
						<tr>
							<th class="text-left">Sweep to</th>
							<td class="num">{settings.sweep.steps} steps</td>
							<td><Num value={settings.sweep.duty} unit="%" digits={5} /></td>
							<td>one each <Num value={settings.sweep.pace} unit="s" digits={4} /></td>
						</tr>
					{/if}
				</tbody>
			</table>
			<p class="mt-2 text-[13px] text-soft">
				One tick is <Num value={settings.tickRate.inverse()} unit="s" />, a duty step <Num
					value={Rational.ratio(settings.step, settings.ticks)}
					unit="%"
					digits={4}
				/>:
				<span class="num">{Math.log2(settings.ticks / settings.step).toFixed(2)}</span> bits. {settings.ticks} ticks a period.
			</p>
		{:else}
			<p class="text-[13px] text-soft">Nothing can be derived yet: the findings say what is missing.</p>
		{/if}
		<Registers {registers} />
		<InTurn><Choosing {session} {aim} /></InTurn>
	</div>
	<div class="min-w-0">
		<InTurn
			><Settings
				{session}
				{aim}
				{question}
				timer={derivation.timer}
				decidedBy={derivation.sharedWith?.name}
				limits="± {aim.tolerance}, {aim.bits}"
			/></InTurn
		>
	</div>
</div>
