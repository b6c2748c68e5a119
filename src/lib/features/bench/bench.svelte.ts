import { SvelteMap } from 'svelte/reactivity';
import { untrack } from 'svelte';
import type { RecordingShelf } from '../../session/recordings.svelte.js';
import { notices } from '../../session/notices.svelte.js';
import type { PlanCheck } from '../../session/planCheck.svelte.js';
import type { PlanSession } from '../../session/session.svelte.js';
import { loadLayout, plannedRows, saveLayout, toggled, type Layout, type PlannedRow } from './benchRows.js';
import { BenchView } from './benchView.svelte.js';
import { differencesOf, momentsOf, nextMoment, plannedLine, recordedLine, type JumpKind, type Line } from './jumps.js';
import { Layings, ON_PLAN, ON_SUSPECT } from './layings.js';
import { deleteMark, setMark, shownMarks, type ShownMark } from './marks.js';
import { PlanPrediction } from './prediction.svelte.js';
import { RecordedLane } from './recordedLane.svelte.js';
import { rhythmOf } from './rhythm.js';

/** The heading of the recordings among those that are folded. */
const RECORDED = 'recorded';
/** Periods around a moment that is shown, and pixels that one must have to be seen. */
const [AROUND, SEEN] = [5, 8];
/** Edges of a pulse without end that "all of its time" shows. */
const FIRST_EDGES = 16;

/** What the bench shows and what is chosen on it: recorded lanes, planned rows, cursors' targets and the lower part. */
export class BenchModel {
	readonly view = new BenchView();
	readonly prediction = new PlanPrediction();
	private readonly layings = [new Layings(ON_PLAN), new Layings(ON_SUSPECT)];
	/** A mapping's id, "aim-ID", or "writes-TIMER": what the lower part shows. */
	chosen = $state<string | undefined>();
	tab = $state('');
	/** Measures only what lies between the cursors. */
	between = $state(false);
	jump = $state<JumpKind>('edge');
	/** The timer in whose ticks the ruler is; empty: in time. */
	rulerTimer = $state('');
	/** The planned row that was pressed last. */
	row = $state.raw<PlannedRow>();
	layout = $state.raw<Layout>({ by: 'plan', order: [], folded: [], open: [] });
	private readonly kept = new SvelteMap<string, RecordedLane>();

	/** Of the mappings whose recording is here; a recording that was put away keeps its mapping for when it comes back. */
	readonly lanes: RecordedLane[] = $derived.by(() =>
		this.session.plan.mappings.filter((m) => this.shelf.find(m.recording)).map(({ id }) => this.laneOf(id))
	);
	readonly marks: ShownMark[] = $derived.by(() => shownMarks(this.session));
	/** What the lower part shows: what is chosen, marks and cards, or readings. */
	lower = $state<'verdict' | 'cards' | 'readings'>('verdict');
	readonly folded: boolean = $derived.by(() => this.layout.folded.includes(RECORDED));
	readonly shownLanes: RecordedLane[] = $derived.by(() => (this.folded ? [] : this.lanes));
	readonly aim = $derived.by(() => {
		const { aims } = this.session.plan;
		if (this.chosen?.startsWith('aim-')) return aims.find(({ id }) => `aim-${id}` === this.chosen);
		if (this.chosen?.startsWith('writes-')) return aims.find(({ timer }) => `writes-${timer}` === this.chosen);
		return undefined;
	});
	/** The recorded lane that the lower part judges. */
	readonly current: RecordedLane | undefined = $derived.by(() =>
		this.aim || this.folded ? undefined : (this.lanes.find((lane) => lane.id === this.chosen) ?? this.lanes[0])
	);
	readonly rows: PlannedRow[] = $derived.by(() => plannedRows(this.prediction.lanes, this.session.plan, this.layout));
	/** What cursors and jumps keep to where no recording is chosen: the planned row that was pressed last, else the first. */
	private readonly focusedRow = $derived.by(() => this.rows.find((one) => isSame(one, this.row)) ?? this.rows.find(isLane));
	readonly focused: Line | undefined = $derived.by(() => this.lineOf(this.current, this.focusedRow));
	/** The recorded lane, by its id, or the aim ("aim-ID") in whose periods angles are told; empty: what is chosen. */
	degreesOf = $state('');
	readonly rhythm = $derived.by(() => {
		const planned = this.focusedRow?.kind === 'lane' ? this.focusedRow.lane.aim : undefined;
		const own = rhythmOf(this.session.derivation, this.current?.derivation?.aim.id ?? planned);
		const lane = this.lanes.find(({ id }) => id === this.degreesOf);
		if (lane) return { ...own, hz: lane.measures?.frequency?.mean };
		if (!this.degreesOf.startsWith('aim-')) return own;
		return { ...own, hz: rhythmOf(this.session.derivation, this.degreesOf.slice(4)).hz };
	});
	readonly rulerTick = $derived.by(() => {
		const first = this.session.plan.aims.find(({ timer }) => timer === this.rulerTimer);
		return this.rulerTimer === '' ? undefined : rhythmOf(this.session.derivation, first?.id).tickRate;
	});

	constructor(
		private readonly session: PlanSession,
		private readonly shelf: RecordingShelf,
		private readonly check: PlanCheck
	) {
		this.layout = loadLayout(session.id);
	}

	/** Predicts the plan as it is; reads all that the prediction hangs on. */
	predict(): void {
		const { plan } = this.session;
		void this.shelf.list;
		// What is predicted must not ask for the next prediction.
		untrack(() => this.prediction.ask(plan, this.shelf));
	}

	/** Lays recordings on the plan; reads all that this hangs on. */
	align(): void {
		const { clocks } = this.session.derivation;
		void this.lanes.map(({ frame, planned, suspected, step, instrument, hand }) => [frame, planned, suspected, step, instrument, hand]);
		untrack(() => this.layings.forEach((each) => each.ask(this.lanes, clocks)));
	}

	/** Lays the view out over what there is to see; reads all that this hangs on. */
	layOut(): void {
		const extents = this.lanes.map((lane) => lane.extent).filter((e) => e !== undefined);
		if (extents.length === 0) {
			const { reached } = this.prediction;
			const period = this.firstPeriod();
			if (reached > 0) untrack(() => this.view.setExtent(0, reached * 1e12, period));
			return;
		}
		const [from, to] = [Math.min(...extents.map((e) => e[0])), Math.max(...extents.map((e) => e[1]))];
		const period = this.lanes.find((lane) => lane.derivation?.pulse)?.derivation?.pulse?.period.toNumber();
		untrack(() => this.view.setExtent(from, to, period && period * 1e12));
	}

	/** Asks why the current line is off, where it is not as set; reads all that this hangs on. */
	suspect(): (() => void) | undefined {
		const outcome = this.current?.verdict?.asSet;
		if (outcome === undefined || outcome === 'within') return undefined;
		void [this.session.plan, this.check.lines];
		return untrack(() => this.check.ask());
	}

	close(): void {
		this.prediction.close();
		for (const each of this.layings) each.close();
		for (const lane of this.kept.values()) lane.close();
	}

	setLayout(next: Layout): void {
		this.layout = next;
		saveLayout(this.session.id, next);
	}

	foldRecorded(): void {
		this.setLayout({ ...this.layout, folded: toggled(this.layout.folded, RECORDED) });
	}

	lineOf(lane: RecordedLane | undefined, planned: PlannedRow | undefined): Line | undefined {
		return recordedLine(lane) ?? (planned?.kind === 'lane' ? plannedLine(planned.lane) : undefined);
	}

	/** Sets a mark at cursor A, or in the middle of what is in view. */
	setMark(): void {
		setMark(this.session, this.view.cursorA ?? Math.round(this.view.timeAt(this.view.width / 2)));
		this.lower = 'cards';
	}

	/** Cursor A to the next mark on one side. */
	stepMarks(by: 1 | -1): void {
		const from = this.view.cursorA ?? this.view.timeAt(this.view.width / 2);
		const next = by > 0 ? this.marks.find(({ ps }) => ps > from + 0.5) : this.marks.findLast(({ ps }) => ps < from - 0.5);
		if (!next) return;
		this.view.cursorA = next.ps;
		this.view.reveal(next.ps, 20);
	}

	/** Takes the mark away that cursor A is at. */
	deleteMark(): void {
		const here = this.marks.find(
			({ ps }) => this.view.cursorA !== undefined && Math.abs(this.view.xOf(ps) - this.view.xOf(this.view.cursorA)) < 3
		);
		if (here) deleteMark(this.session, here.id);
	}

	/** Cuts a lane's line at the threshold that it was dragged to. */
	async cutAt(lane: RecordedLane): Promise<void> {
		const { recording, line, dragged } = lane;
		if (recording && line && dragged !== undefined) {
			const threshold = Number(dragged.toPrecision(4));
			try {
				await this.shelf.cut(recording.id, line.number, { threshold, ...(line.slicing && { hysteresis: line.slicing.hysteresis }) });
			} catch (error) {
				notices.fault(`${line.name} could not be cut anew: ${error instanceof Error ? error.message : String(error)}.`);
			}
		}
		lane.dragged = undefined;
	}

	/** Cursor A to the next edge, event or finding. */
	jumpBy(by: 1 | -1): Promise<void> {
		// One after the other: each goes on from where the one before came to.
		this.jumping = this.jumping.then(() => this.jumpOnce(by)).catch(() => undefined);
		return this.jumping;
	}
	private jumping = Promise.resolve();

	private async jumpOnce(by: 1 | -1): Promise<void> {
		const { view } = this;
		const from = view.cursorA ?? view.timeAt(view.width / 2);
		// Of a line that is not held here the server knows the next.
		const far = this.jump === 'edge' && this.current && !this.current.trace ? await this.current.nextEdge(from, by) : undefined;
		const time = far ?? nextMoment(this.jumpLines(), from, by);
		if (time === undefined) return;
		view.cursorA = time;
		view.reveal(time, 20);
	}

	/** Brings a moment, in seconds of plan time, under cursor A, near enough that a period of the aim can be seen. */
	show(moment: number, aim = this.aim?.id): void {
		const { view } = this;
		view.cursorA = Math.round(moment * 1e12);
		const { hz } = rhythmOf(this.session.derivation, aim);
		const period = hz && 1e12 / hz.toNumber();
		if (period && period < SEEN * view.perColumn) view.showSpan(view.cursorA - AROUND * period, view.cursorA + AROUND * period);
		view.reveal(view.cursorA, 40);
	}

	/** The same for a moment of a recording's own time. */
	showRecorded(lane: RecordedLane, moment: number): void {
		this.show(moment - lane.shiftPs * 1e-12, lane.derivation?.aim.id);
	}

	/** All of what comes to the chosen aim's inputs, or its first periods. */
	fitAim(): void {
		const own = this.prediction.lanes.flatMap(({ aim, drawn }) =>
			aim === this.aim?.id && drawn.kind === 'level' && drawn.trace.count > 0 ? [drawn.trace] : []
		);
		const endless = (trace: (typeof own)[number]) => trace.columns.repeats.length > 0;
		const ends = own.map((trace) => {
			const last = endless(trace) ? Math.min(trace.count - 1, FIRST_EDGES) : trace.count - 1;
			return trace.edgeTime(last) * trace.unit.toNumber() * 1e12;
		});
		if (ends.length > 0) this.view.showSpan(0, own.every(endless) ? Math.min(...ends) : Math.max(...ends));
	}

	private laneOf(id: string): RecordedLane {
		return untrack(() => {
			const known = this.kept.get(id) ?? new RecordedLane(this.session, this.shelf, this.check, this.prediction, id);
			this.kept.set(id, known);
			return known;
		});
	}

	/** Everything that jumps of a kind go to. */
	private jumpLines(): Line[] {
		if (this.jump === 'edge') return this.focused ? [this.focused] : [];
		if (this.jump === 'difference') return [differencesOf(this.current) ?? []].flat();
		const { lanes, outcomes, replays, unit } = this.prediction;
		if (this.jump === 'event') {
			const own = this.focusedRow?.kind === 'lane' ? this.focusedRow.lane.aim : undefined;
			return lanes.filter(({ aim, drawn }) => drawn.kind === 'events' && (own === undefined || aim === own)).map(plannedLine);
		}
		const glitches = outcomes.flatMap(({ whatIf, glitches: all }) => (whatIf ? [] : all.map(({ at }) => at)));
		const misread = replays.flatMap(({ at, wrong }) => Array.from(at).filter((_, i) => wrong[i] !== ''));
		return [{ sources: [momentsOf([...glitches, ...misread])], unit: unit.toNumber() * 1e12, shift: 0 }];
	}

	/** The slowest period of what pulses for ever; otherwise the time to the last edge of all, or of the slowest event. In picoseconds. */
	private firstPeriod(): number | undefined {
		const traces = this.prediction.lanes.flatMap(({ drawn, unit, detail }) =>
			drawn.kind === 'level' && !detail && drawn.trace.count > 2 ? [{ trace: drawn.trace, ps: unit.toNumber() * 1e12 }] : []
		);
		const endless = traces.filter(({ trace }) => trace.columns.repeats.length > 0);
		if (endless.length > 0) return Math.max(...endless.map(({ trace, ps }) => (trace.edgeTime(2) - trace.edgeTime(0)) * ps));
		if (traces.length > 0) return Math.max(...traces.map(({ trace, ps }) => trace.edgeTime(trace.count - 1) * ps));
		const events = this.session.derivation.aims.flatMap(({ run }) => run.interval?.seconds.toNumber() ?? []);
		return events.length > 0 ? Math.max(...events) * 1e12 : undefined;
	}
}

function isLane(row: PlannedRow): boolean {
	return row.kind === 'lane';
}

function isSame(a: PlannedRow, b: PlannedRow | undefined): boolean {
	if (a.kind !== 'lane' || b?.kind !== 'lane') return false;
	return a.lane.aim === b.lane.aim && a.lane.role === b.lane.role && a.lane.whatIf === b.lane.whatIf;
}
