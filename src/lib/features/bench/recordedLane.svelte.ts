import { type AimDerivation, readInstrument, waveOf } from '../../../core/aims/index.js';
import type { Mapping } from '../../../core/plan/index.js';
import { type Suspect, type Verdict, findSuspects, judge } from '../../../core/check/index.js';
import { Rational } from '../../../core/exact/index.js';
import type { PulseMeasures, Window } from '../../../core/measure/index.js';
import { steadyWave } from '../../../core/timer/index.js';
import { Disagreement, StretchedTrace, Trace, type LevelSource } from '../../../core/trace/index.js';
import { benchWorkers } from '../../../workers/clients.js';
import { fromWire, type LineFrame, type WireWave } from '../../../workers/benchWire.js';
import { frameOf, unitPs, type RecordedLine, type Recording, type RecordingShelf } from '../../session/recordings.svelte.js';
import type { PlanSession } from '../../session/session.svelte.js';
import { failedState, LatestWork, type WorkState } from '../../session/work.js';
import type { BenchView } from './benchView.svelte.js';
import { plannedLines } from './plannedLines.js';
import type { PlanPrediction } from './prediction.svelte.js';

/** What the plan puts on a line: a steady wave, or what was predicted of it, `until` a cycle of its unit. */
type Planned = { kind: 'steady'; source: LevelSource; wire: WireWave } | { kind: 'predicted'; source: LevelSource; wire: WireWave };

/** A recorded line laid over the planned line that it is mapped to: what the bench shows of one mapping, whatever its kind of aim. */
export class RecordedLane {
	state = $state.raw<WorkState>({ kind: 'idle' });
	trace = $state.raw<Trace>();
	measures = $state.raw<PulseMeasures>();
	/** The window that they are of. */
	private measured = $state.raw<Window>();
	disagreement = $state.raw<Disagreement>();
	private readonly work = { load: new LatestWork(), measure: new LatestWork(), compare: new LatestWork() };

	readonly mapping: Mapping | undefined = $derived.by(() => this.session.plan.mappings.find((m) => m.id === this.id));
	readonly recording: Recording | undefined = $derived.by(() => this.mapping && this.shelf.find(this.mapping.recording));
	readonly line: RecordedLine | undefined = $derived.by(() => this.recording?.lines.find((l) => l.name === this.mapping?.line));
	readonly frame: LineFrame | undefined = $derived.by(() => this.recording && this.line && frameOf(this.recording, this.line));
	readonly derivation: AimDerivation | undefined = $derived.by(() =>
		this.session.derivation.aims.find((d) => d.aim.id === this.mapping?.aim)
	);
	readonly planned: Planned | undefined = $derived.by(() => this.steady() ?? this.predicted());
	/** The recording's time, in picoseconds, at which the plan's time is 0: the first rise of both is laid together. */
	readonly shiftPs: number = $derived.by(() => alignment(this.trace, this.planned?.source));
	readonly verdict: Verdict | undefined = $derived.by(() => {
		if (!this.measures || !this.measured || !this.derivation || !this.recording || !this.mapping) return undefined;
		const instrument = readInstrument(this.mapping.instrument);
		const evidence = {
			measured: this.measures,
			window: Rational.parse(this.recording.unit).mul(Rational.int(this.measured.end - this.measured.start)),
			step: { step: Rational.parse(this.recording.resolution) },
			instrument: instrument.ok ? instrument.value : Rational.zero
		};
		return judge(this.derivation, this.session.derivation.clocks, evidence, this.mapping.role);
	});
	readonly suspects: Suspect[] = $derived.by(() =>
		this.verdict && this.derivation ? findSuspects(this.session.plan, this.derivation, this.verdict) : []
	);

	constructor(
		private readonly session: PlanSession,
		private readonly shelf: RecordingShelf,
		private readonly prediction: PlanPrediction,
		readonly id: string
	) {}

	/** Where the recording begins and ends, in picoseconds of plan time. */
	get extent(): [number, number] | undefined {
		if (!this.recording || !this.trace) return undefined;
		const unit = unitPs(this.recording);
		return [this.recording.startTime * unit - this.shiftPs, this.recording.endTime * unit - this.shiftPs];
	}

	/** Loads the line's edges. */
	async load(frame: LineFrame): Promise<void> {
		const signal = this.work.load.begin();
		this.state = { kind: 'loading' };
		try {
			const chunks = await benchWorkers.run((worker) => worker.load(frame), { signal });
			this.trace = new Trace({ unit: Rational.parse(frame.unit), start: frame.start, end: frame.end, initial: frame.initial }, chunks);
			this.state = { kind: 'ready' };
		} catch (error) {
			this.state = failedState(error, signal) ?? this.state;
		}
	}

	/** Gives up whatever is under way. */
	close(): void {
		for (const work of Object.values(this.work)) work.end();
	}

	/** The stretch measured, in the recording's units: all of it, or what lies between the cursors. */
	window(view: BenchView, between: boolean): Window | undefined {
		const { recording } = this;
		if (!recording) return undefined;
		const whole = { start: recording.startTime, end: recording.endTime + 1 };
		if (!between || view.cursorA === undefined || view.cursorB === undefined) return whole;
		const units = (ps: number) => Math.round((ps + this.shiftPs) / unitPs(recording));
		const [a, b] = [units(view.cursorA), units(view.cursorB)];
		return { start: Math.min(a, b), end: Math.max(a, b) };
	}

	async measure(frame: LineFrame, window: Window): Promise<void> {
		const signal = this.work.measure.begin();
		try {
			const measures = fromWire(await benchWorkers.run((worker) => worker.measure(frame, window), { signal }));
			[this.measures, this.measured] = [measures, window];
		} catch (error) {
			this.state = failedState(error, signal) ?? this.state;
		}
	}

	/** Finds where the recorded line and the planned one differ; `shift` in the recording's units. */
	async compare(frame: LineFrame, wave: WireWave, shift: number): Promise<void> {
		const signal = this.work.compare.begin();
		try {
			const columns = await benchWorkers.run((worker) => worker.disagree(frame, wave, shift), { signal });
			this.disagreement = columns ? new Disagreement(columns) : undefined;
		} catch (error) {
			this.state = failedState(error, signal) ?? this.state;
		}
	}

	/** The wave of an aim with one pin that pulses steadily: it has no beginning and no end. */
	private steady(): Planned | undefined {
		const pulse = this.derivation?.pulse;
		const single = this.mapping && plannedLines(this.prediction.lanes, this.mapping.aim).length < 2;
		if (!pulse || !single) return undefined;
		const [setting, tick] = [waveOf(pulse), pulse.tickRate.inverse()];
		const source = steadyWave(setting, tick);
		return source ? { kind: 'steady', source, wire: { kind: 'steady', setting, tick: tick.toString() } } : undefined;
	}

	private predicted(): Planned | undefined {
		if (!this.mapping) return undefined;
		const own = plannedLines(this.prediction.lanes, this.mapping.aim);
		const lane = own.find(({ role }) => role === this.mapping?.role) ?? own[0];
		if (!lane) return undefined;
		const { columns, unit } = lane.trace;
		const { until } = this.prediction;
		return { kind: 'predicted', source: lane.trace, wire: { kind: 'predicted', unit: unit.toString(), columns, until } };
	}
}

function alignment(trace: Trace | undefined, planned: LevelSource | undefined): number {
	if (!trace) return 0;
	const unit = trace.unit.toNumber() * 1e12;
	const recorded = firstRise(trace, trace.count);
	return (recorded ?? trace.meta.start) * unit - (recorded !== undefined && planned ? risePs(planned) : 0);
}

/** When a planned line first rises from its time 0 on, in picoseconds; 0 for a steady one. */
export function risePs(planned: LevelSource): number {
	const edges = planned instanceof StretchedTrace ? planned.count : 2;
	return (firstRise(planned, edges) ?? 0) * planned.unit.toNumber() * 1e12;
}

function firstRise(source: LevelSource, edges: number): number | undefined {
	for (let edge = 0; edge < edges; edge++) {
		if (source.levelAfter(edge) === 0 && source.levelAfter(edge + 1) === 1) return source.edgeTime(edge);
	}
	return undefined;
}
