<script lang="ts">
	import { readInstrument } from '../../../core/aims/index.js';
	import { believed, readInstrumentOf } from '../../../core/readings/index.js';
	import type { RecordedLane } from './recordedLane.svelte.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { laidText, OUTCOME, problemText, roleText, verdictText } from '../../text/index.js';
	import InstrumentChoice from './InstrumentChoice.svelte';
	import type { BenchView } from './benchView.svelte.js';
	import BudgetBar from './BudgetBar.svelte';
	import LaidByHand from './LaidByHand.svelte';
	import InTurn from '../../components/InTurn.svelte';
	import Choice from '../../components/Choice.svelte';
	import Num from '../../components/Num.svelte';
	import { Rational } from '../../../core/exact/index.js';
	import TypedField from '../../components/TypedField.svelte';

	interface Props {
		session: PlanSession;
		lane: RecordedLane;
		lanes: readonly RecordedLane[];
		view: BenchView;
	}
	let { session, lane, lanes, view }: Props = $props();

	/** Lanes of other recordings, before or after this one. */
	const others = $derived(lanes.filter((one) => one !== lane && one.frame));

	const verdict = $derived(lane.verdict);
	const TONE = { within: 'text-accent', outside: 'text-fault', undecided: 'text-soft' };
	const index = $derived(session.plan.mappings.findIndex((m) => m.id === lane.id));
	const named = $derived(session.plan.instruments.find(({ id }) => id === lane.mapping?.by));
	const beyond = $derived(!believed(readInstrumentOf(named), lane.measures?.frequency?.mean));
	const instrument = $derived(lane.mapping ? readInstrument(lane.mapping.instrument) : undefined);
</script>

<section class="flex min-h-0 min-w-0 flex-col overflow-y-auto px-4 py-2.5" aria-label="Verdict" data-testid="verdict">
	{#if others.length > 0}
		<label class="mb-1 flex items-center gap-2 text-[12px] whitespace-nowrap text-soft">
			laid on
			<Choice
				class="max-w-72 text-[12px]"
				aria-label="Laid on"
				value={lane.before?.id ?? ''}
				onchange={(event) => (lane.before = others.find(({ id }) => id === event.currentTarget.value))}
			>
				<option value="">the plan</option>
				{#each others as one (one.id)}<option value={one.id}>{one.line?.name} in {one.recording?.name}</option>{/each}
			</Choice>
			{#if lane.before && lane.disagreement}
				<span title="Laid with first rise on first rise"
					>they differ for <Num value={Rational.parse(lane.differing.toPrecision(3))} unit="%" digits={3} /> of the time</span
				>
			{/if}
		</label>
	{/if}
	{#if verdict}
		<div class="flex items-baseline gap-3">
			<h2 class={['font-serif text-[22px] leading-tight font-semibold', TONE[verdict.outcome]]} data-testid="outcome">
				{OUTCOME[verdict.outcome]}
			</h2>
			<p class="text-[13px] whitespace-nowrap" data-testid="questions">
				as set <b class={TONE[verdict.asSet]}>{OUTCOME[verdict.asSet].toLowerCase()}</b>, as wished
				<b class={TONE[verdict.asWished]}>{OUTCOME[verdict.asWished].toLowerCase()}</b>
			</p>
			<p class="min-w-0 truncate text-[13px] text-soft">
				{lane.derivation?.aim.name}{lane.mapping?.role === undefined ? '' : `, ${roleText(lane.mapping.role)},`} in {lane.recording?.name}
			</p>
		</div>
		<p class="mt-0.5 text-[14px]" data-testid="verdict-text">{verdictText(verdict)}</p>
		{#each verdict.quantities as q (q.of)}
			<InTurn><BudgetBar {q} /></InTurn>
		{/each}
		{#if lane.laid}
			<p class="mt-1.5 text-[13px] text-soft" data-testid="laid">{laidText(lane.laid, lane.hand !== undefined)}</p>
		{/if}
		{#if !lane.before}<LaidByHand {session} {lane} {view} />{/if}
		<p class="mt-1.5 text-[13px] text-soft">
			{#if session.plan.instruments.length > 0}
				Recorded by <InstrumentChoice
					{session}
					value={named?.id ?? ''}
					none="another"
					label="Instrument of the recording"
					onTake={(id) => session.set(['mappings', index, 'by'], id === '' ? undefined : id, 'name the instrument')}
				/>, which states
			{:else}The instrument states{/if}
			{#if named}
				{named.time.trim() || 'no error'}
			{:else}
				<TypedField
					small
					label="Stated error of the instrument"
					value={lane.mapping?.instrument ?? ''}
					problem={instrument && !instrument.ok ? problemText(instrument.problem) : undefined}
					onInput={(text, first) => session.set(['mappings', index, 'instrument'], text, 'set the instrument’s error', !first)}
				/>
			{/if} for its time base.
			{#if named && beyond}<b class="text-warn">The signal lies outside of what it can be believed for.</b>{/if}
		</p>
	{:else}
		<p class="text-soft">{lane.state.kind === 'failed' ? lane.state.reason : 'Measuring …'}</p>
	{/if}
</section>
