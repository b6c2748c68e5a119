<script lang="ts">
	import { SvelteMap } from 'svelte/reactivity';
	import { onDestroy, tick, untrack } from 'svelte';
	import { replaceState } from '$app/navigation';
	import { page } from '$app/state';
	import type { Suspect } from '../../../core/check/index.js';
	import { Rational } from '../../../core/exact/index.js';
	import { loadLayout, plannedRows, saveLayout, toggled, type Layout, type PlannedRow } from './benchRows.js';
	import { openPlan } from '../../session/context.js';
	import { momentsOf, nextMoment, plannedLine, recordedLine, type JumpKind, type Line } from './jumps.js';
	import { BenchLane } from './lane.svelte.js';
	import { PlanPrediction } from './prediction.svelte.js';
	import { rhythmOf } from './rhythm.js';
	import { BenchView } from './view.svelte.js';
	import { seconds, suspectText } from '../../text/index.js';
	import AimBench from './AimBench.svelte';
	import BenchTools from './BenchTools.svelte';
	import DropZone from './DropZone.svelte';
	import InTurn from '../../components/InTurn.svelte';
	import LaneFeeder from './LaneFeeder.svelte';
	import Measures from './Measures.svelte';
	import PlannedLabels from './PlannedLabels.svelte';
	import RecordingsPanel from './RecordingsPanel.svelte';
	import Ruler from './Ruler.svelte';
	import Stage from './Stage.svelte';
	import Suspects from './Suspects.svelte';
	import VerdictCard from './VerdictCard.svelte';

	const { session, recordings: shelf } = openPlan();
	const view = new BenchView();
	const kept = new SvelteMap<string, BenchLane>();
	const prediction = new PlanPrediction();

	/** A mapping's id, "aim-ID", or "writes-TIMER": what the lower part shows; the address names it. */
	let chosen = $state<string | undefined>(page.url.hash.slice(1) || undefined);
	let tab = $state(page.url.hash.startsWith('#writes-') ? 'writes' : '');
	let between = $state(false);
	let pinned = $state.raw<{ lane: string; code: Suspect['code'] } | undefined>();
	let layout = $state.raw<Layout>(loadLayout(session.id));
	let row = $state.raw<PlannedRow>();
	let jump = $state<JumpKind>('edge');
	const timers = $derived(session.plan.part.timers.filter(({ id }) => session.plan.aims.some(({ timer }) => timer === id)));
	/** The timer in whose ticks the ruler is; empty: in time. */
	let rulerTimer = $state('');
	let panel = $state<RecordingsPanel>();
	let stage = $state<HTMLDivElement>();

	/** Mappings whose recording is here; a recording that was put away keeps its mapping for when it comes back. */
	const ids = $derived(session.plan.mappings.filter((m) => shelf.find(m.recording)).map((m) => m.id));
	const lanes = $derived(ids.map(laneOf));
	/** The heading of the recordings among those that are folded. */
	const RECORDED = 'recorded';
	const folded = $derived(layout.folded.includes(RECORDED));
	const shownLanes = $derived(folded ? [] : lanes);
	const aim = $derived.by(() => {
		if (chosen?.startsWith('aim-')) return session.plan.aims.find(({ id }) => `aim-${id}` === chosen);
		if (chosen?.startsWith('writes-')) return session.plan.aims.find(({ timer }) => `writes-${timer}` === chosen);
		return undefined;
	});
	const current = $derived(aim || folded ? undefined : (lanes.find((lane) => lane.id === chosen) ?? lanes[0]));
	const suspect = $derived(current && pinned?.lane === current.id ? current.suspects.find((s) => s.code === pinned?.code) : undefined);
	const rows = $derived(plannedRows(prediction.lanes, session.plan, layout));
	const names = $derived(new Map(session.plan.aims.map(({ id, name }) => [id, name || 'unnamed aim'])));
	const waiting = $derived(prediction.unplanned.filter(({ why }) => why === 'not-derived').length);

	function laneOf(id: string): BenchLane {
		return untrack(() => {
			const known = kept.get(id) ?? new BenchLane(session, shelf, id);
			kept.set(id, known);
			return known;
		});
	}

	$effect(() => {
		const { plan } = session;
		void shelf.list;
		// What is predicted must not ask for the next prediction.
		untrack(() => prediction.ask(plan, shelf));
	});
	onDestroy(() => prediction.close());
	// A finding's address leads to its list of writes.
	$effect(() => {
		const { hash } = page.url;
		if (hash.startsWith('#writes-')) untrack(() => ([chosen, tab] = [hash.slice(1), 'writes']));
	});

	/** The first planned line that has a rhythm, in picoseconds. */
	const firstPeriod = $derived.by(() => {
		const lane = prediction.lanes.find(({ drawn, role }) => drawn.kind === 'level' && role === 'pin' && drawn.trace.count > 2);
		if (lane?.drawn.kind !== 'level') return undefined;
		return (lane.drawn.trace.edgeTime(2) - lane.drawn.trace.edgeTime(0)) * lane.unit.toNumber() * 1e12;
	});

	$effect(() => {
		const extents = lanes.map((lane) => lane.extent).filter((e) => e !== undefined);
		if (extents.length === 0 && prediction.reached > 0) untrack(() => view.setExtent(0, prediction.reached * 1e12, firstPeriod));
		if (extents.length === 0) return;
		const [from, to] = [Math.min(...extents.map((e) => e[0])), Math.max(...extents.map((e) => e[1]))];
		const period = lanes.find((lane) => lane.derivation?.pulse)?.derivation?.pulse?.period.toNumber();
		untrack(() => view.setExtent(from, to, period && period * 1e12));
	});

	$effect(() => {
		void view.width;
		untrack(() => view.follow());
	});

	/** What cursors and jumps keep to: the recording that is chosen, else the planned row that was pressed last. */
	const laneRow = $derived(
		rows.find(
			(one) =>
				one.kind === 'lane' &&
				row?.kind === 'lane' &&
				one.lane.aim === row.lane.aim &&
				one.lane.role === row.lane.role &&
				one.lane.whatIf === row.lane.whatIf
		) ?? rows.find((one) => one.kind === 'lane')
	);
	const focused = $derived(lineOf(current, laneRow));
	const rhythm = $derived(
		rhythmOf(session.derivation, current?.derivation?.aim.id ?? (laneRow?.kind === 'lane' ? laneRow.lane.aim : undefined))
	);
	const rulerTick = $derived(
		rulerTimer === '' ? undefined : rhythmOf(session.derivation, session.plan.aims.find(({ timer }) => timer === rulerTimer)?.id).tickRate
	);

	function lineOf(lane: BenchLane | undefined, planned: PlannedRow | undefined): Line | undefined {
		return recordedLine(lane) ?? (planned?.kind === 'lane' ? plannedLine(planned.lane) : undefined);
	}

	/** Everything that jumps of a kind go to. */
	function jumpLines(): Line[] {
		if (jump === 'edge') return focused ? [focused] : [];
		const planned = prediction.lanes;
		const unit = prediction.unit.toNumber() * 1e12;
		if (jump === 'event') {
			const own = laneRow?.kind === 'lane' ? laneRow.lane.aim : undefined;
			return planned.filter(({ aim: of, drawn }) => drawn.kind === 'events' && (own === undefined || of === own)).map(plannedLine);
		}
		const glitches = prediction.outcomes.flatMap(({ whatIf, glitches: all }) => (whatIf ? [] : all.map(({ at }) => at)));
		const misread = prediction.replays.flatMap(({ at, wrong }) => Array.from(at).filter((_, i) => wrong[i] !== ''));
		return [{ sources: [momentsOf([...glitches, ...misread])], unit, shift: 0 }];
	}

	function onJump(by: 1 | -1) {
		const from = view.cursorA ?? view.timeAt(view.width / 2);
		const time = nextMoment(jumpLines(), from, by);
		if (time === undefined) return;
		view.cursorA = time;
		const x = view.xOf(time);
		if (x < 20 || x > view.width - 20) view.pan(x - view.width / 2);
	}

	/** Periods around a moment that is shown, and pixels that one must have to be seen. */
	const [AROUND, SEEN] = [5, 8];

	/** Brings a moment, in seconds of plan time, under cursor A, near enough that a period of the aim can be seen. */
	function show(moment: number) {
		view.cursorA = Math.round(moment * 1e12);
		const { hz } = rhythmOf(session.derivation, aim?.id);
		const period = hz && 1e12 / hz.toNumber();
		if (period && period < SEEN * view.perColumn) view.showSpan(view.cursorA - AROUND * period, view.cursorA + AROUND * period);
		const x = view.xOf(view.cursorA);
		if (x < 40 || x > view.width - 40) view.pan(x - view.width / 2);
	}

	/** All of what comes to the aim's inputs, or its first periods. */
	function fitAim() {
		const own = prediction.lanes.filter(({ aim: of, drawn }) => of === aim?.id && drawn.kind === 'level');
		const ends = own.flatMap(({ drawn, unit }) => {
			if (drawn.kind !== 'level' || drawn.trace.count === 0) return [];
			const last = drawn.trace.columns.repeats.length === 0 ? drawn.trace.count - 1 : Math.min(drawn.trace.count - 1, 16);
			return [drawn.trace.edgeTime(last) * unit.toNumber() * 1e12];
		});
		const finite = own.filter(({ drawn }) => drawn.kind === 'level' && drawn.trace.columns.repeats.length === 0);
		if (ends.length > 0) view.showSpan(0, finite.length > 0 ? Math.max(...ends) : Math.min(...ends));
	}

	/** Makes a lane the current one; the address names it. */
	async function choose(id: string) {
		chosen = id;
		replaceState(`#${id}`, {});
		await tick();
		reveal(id);
	}

	/** Scrolls as little as brings a lane, or all lanes of an aim, into sight. */
	function reveal(id: string) {
		document.getElementById(`lane-${id}`)?.scrollIntoView({ block: 'nearest' });
		const own = [...document.querySelectorAll('[data-aim]')].filter((label) => `aim-${(label as HTMLElement).dataset.aim}` === id);
		for (const label of [own.at(-1), own[0]]) label?.scrollIntoView({ block: 'nearest' });
	}

	// The lanes of the aim that an address names come into sight once they are there.
	let sought = $state(page.url.hash.slice(1));
	$effect(() => {
		if (!sought || rows.length === 0) return;
		const id = `aim-${aim?.id}`;
		void tick().then(() => reveal(id));
		sought = '';
	});

	function setLayout(next: Layout) {
		layout = next;
		saveLayout(session.id, next);
	}
</script>

{#each lanes as lane (lane.id)}
	<LaneFeeder {lane} {view} {between} tells={lane === current} {session} />
{/each}

<div class="grid h-full grid-cols-[16.5rem_minmax(0,1fr)]">
	<aside class="min-h-0 border-r bg-well/50">
		<InTurn><RecordingsPanel bind:this={panel} {session} {shelf} onMapped={(id) => void choose(id)} /></InTurn>
	</aside>
	<div class="grid min-h-0 min-w-0 grid-cols-[minmax(0,1fr)] grid-rows-[2.4rem_minmax(0,1fr)_auto]">
		<BenchTools {session} {view} {lanes} {current} {rows} {rhythm} {names} reached={prediction.reached} bind:between bind:jump {onJump} />
		<div class="relative grid min-h-0 min-w-0 grid-cols-[10.5rem_minmax(0,1fr)] grid-rows-[1.5rem_minmax(0,1fr)]">
			<div class="flex items-center border-r border-b px-1.5">
				<select
					class="w-full border-0 bg-transparent py-0 pr-6 pl-1.5 text-[11px] text-soft"
					aria-label="Ruler"
					title="What the ruler is in"
					bind:value={rulerTimer}
				>
					<option value="">ruler in time</option>
					{#each timers as { id, name } (id)}<option value={id}>ticks, {name}</option>{/each}
				</select>
			</div>
			<div class="min-w-0" bind:clientWidth={view.width}><Ruler {view} tickPs={rulerTick && 1e12 / rulerTick.toNumber()} /></div>
			<div class="col-span-2 min-h-0 overflow-x-hidden overflow-y-auto">
				{#if lanes.length === 0 && (prediction.lanes.length === 0 || shelf.list.length > 0) && !prediction.running}
					<div class="mx-auto mt-16 max-w-md text-center">
						{#if session.plan.aims.length === 0}
							<p class="font-serif text-lg">Nothing is planned yet.</p>
							<p class="mt-1 text-soft">
								Every pin of an aim is drawn here as the timers will drive it, and recordings are held against it.
							</p>
							<a class="mt-4 inline-block btn-main" href="/plan/{session.id}/aims">Add an aim</a>
						{:else}
							<p class="font-serif text-lg">Nothing is held against the plan yet.</p>
							<p class="mt-1 text-soft">
								{shelf.list.length === 0
									? 'Drop a recording anywhere here, then say which line shows which aim.'
									: 'Say on the left which recorded line shows which aim.'}
							</p>
							{#if shelf.list.length === 0}<button type="button" class="mt-4 btn-main" onclick={() => panel?.browse()}
									>Add a recording</button
								>{/if}
						{/if}
					</div>
				{/if}
				<div class="grid grid-cols-[10.5rem_minmax(0,1fr)]">
					<div class="border-r">
						{#if lanes.length > 0}
							<button
								type="button"
								class="flex h-[27px] w-full items-center border-b bg-well/50 px-2 text-left text-[11px] text-soft hover:text-accent"
								aria-expanded={!folded}
								onclick={() => setLayout({ ...layout, folded: toggled(layout.folded, RECORDED) })}
								>{folded ? '▸' : '▾'} recordings{folded ? ` (${lanes.length})` : ''}</button
							>
						{/if}
						{#each shownLanes as lane (lane.id)}
							<button
								type="button"
								id="lane-{lane.id}"
								class={[
									'flex h-[5.6rem] w-full flex-col justify-center border-b px-3 text-left',
									current === lane ? 'bg-accent-wash' : 'hover:bg-card'
								]}
								aria-pressed={current === lane}
								onclick={() => void choose(lane.id)}
								data-testid="lane-label"
							>
								<span class="w-full truncate text-[13px] font-bold">{lane.derivation?.aim.name ?? 'aim deleted'}</span>
								<span class="w-full truncate text-[11px] text-soft">{lane.recording?.name}</span>
								<span class={['text-[12px]', lane.verdict?.outcome === 'outside' ? 'font-bold text-fault' : 'text-accent']}>
									{lane.failed ? 'not loaded' : lane.verdict ? lane.verdict.outcome : '…'}
								</span>
							</button>
							{#if suspect && current === lane}
								<div class="border-b px-3 py-2 text-[11px] leading-snug" style:height="4.4rem">
									<b class="text-warn">What if:</b>
									{suspectText(suspect.code)}
								</div>
							{/if}
						{/each}
						<PlannedLabels {session} {rows} {layout} chosen={aim?.id} onLayout={setLayout} onChoose={(id) => void choose(`aim-${id}`)} />
					</div>
					<Stage
						bind:element={stage}
						{view}
						lanes={shownLanes}
						head={lanes.length > 0}
						{current}
						{suspect}
						onChoose={(id) => void choose(id)}
						{rows}
						reached={prediction.reached}
						onRow={(pressed) => (row = pressed)}
						{lineOf}
						{focused}
						{onJump}
					/>
				</div>
				{#if prediction.failed}
					<p class="px-3 py-1 text-[12px] text-fault">The plan could not be predicted: {prediction.failed}</p>
				{:else if prediction.running && (prediction.lanes.length === 0 || prediction.reached < 3600)}
					<p class="px-3 py-1 text-[12px] text-soft">
						Predicting, {prediction.reached.toFixed(1)} s of an hour …
						<button type="button" class="underline" onclick={() => void prediction.stop()}>Stop</button>
					</p>
				{:else if prediction.lanes.length > 0}
					<p class="px-3 py-1 text-[11px] text-soft" data-testid="planned-foot">
						Predicted to the cycle for {seconds(Rational.ratio(Math.round(prediction.reached * 1000), 1000), 5)}{prediction.short
							? ', as far as edges were counted'
							: ''}.{waiting > 0 ? ` ${waiting} ${waiting === 1 ? 'aim is' : 'aims are'} not derived yet.` : ''}
						Press a name for what comes to its inputs or is written while it runs; ▸ shows its counter and events.
					</p>
				{/if}
			</div>
		</div>
		{#if aim}
			{#key aim.id}
				<AimBench
					{session}
					{shelf}
					{prediction}
					{aim}
					{tab}
					onTab={(next) => (tab = next)}
					onShow={show}
					onFit={fitAim}
					onClose={() => {
						chosen = undefined;
						replaceState(page.url.pathname, {});
					}}
				/>
			{/key}
		{:else if current}
			<div class="grid h-[18.5rem] grid-cols-[minmax(0,0.92fr)_minmax(0,1fr)] border-t bg-card/60">
				<VerdictCard {session} lane={current} />
				<div class="min-h-0 overflow-y-auto border-l">
					<Measures lane={current} />
					{#if current.verdict?.outcome === 'outside'}
						<InTurn>
							<Suspects
								lane={current}
								pinned={suspect?.code}
								onPin={(code) => (pinned = code && current ? { lane: current.id, code } : undefined)}
							/>
						</InTurn>
					{/if}
				</div>
			</div>
		{/if}
	</div>
</div>

<DropZone onFiles={(files) => void panel?.take(files)} />
