import { type AimDerivation, waveOf } from '../../../core/aims/index.js';
import type { Mapping } from '../../../core/plan/index.js';
import { type Verdict, judge } from '../../../core/check/index.js';
import { Rational } from '../../../core/exact/index.js';
import type { PulseMeasures, Window } from '../../../core/measure/index.js';
import { readLaying, type HandLaying } from '../../../core/readings/index.js';
import { steadyWave } from '../../../core/timer/index.js';
import { Disagreement, StretchedTrace, Trace, type LevelSource } from '../../../core/trace/index.js';
import { benchWorkers } from '../../../workers/clients.js';
import { fromWire, MOST_EDGES, type AlignedWire, type LineFrame, type WireWave } from '../../../workers/benchWire.js';
import { unpackChunks } from '../../../core/trace/index.js';
import type { AnalogueView, ColumnSource } from '../../wave/index.js';
import { WindowedLine } from '../../session/windowedLine.js';
import {
	frameOf,
	statedError,
	stepOf,
	unitPs,
	type RecordedLine,
	type Recording,
	type RecordingShelf
} from '../../session/recordings.svelte.js';
import { isOf, type PlanCheck } from '../../session/planCheck.svelte.js';
import type { PlanSession } from '../../session/session.svelte.js';
import { failedState, LatestWork, type WorkState } from '../../session/work.js';
import type { BenchView } from './benchView.svelte.js';
import { plannedLines } from './plannedLines.js';
import { suspectedOf, type Suspected } from './suspected.js';
import type { PlanPrediction } from './prediction.svelte.js';

/** Lines of more edges are not held by the page. */
const HELD = 131_072;

/** What the plan puts on a line: a steady wave, or what was predicted of it, `until` a cycle of its unit. */
type Planned = { kind: 'steady'; source: LevelSource; wire: WireWave } | { kind: 'predicted'; source: LevelSource; wire: WireWave };

/** A recorded line laid over the planned line that it is mapped to: what the bench shows of one mapping, whatever its kind of aim. */
export class RecordedLane {
	state = $state.raw<WorkState>({ kind: 'idle' });
	/** All of a line that is short enough to be held here. */
	trace = $state.raw<Trace>();
	/** A longer one, in tiles; counted up as more of it comes. */
	private windowed = $state.raw<WindowedLine>();
	arrived = $state(0);
	/** Of that the edges in sight, where they are few. */
	near = $state.raw<Trace>();
	/** Samples in sight, of an analogue line. */
	samples = $state.raw<Pick<AnalogueView, 'start' | 'perColumn' | 'bounds'>>();
	/** A threshold that is being dragged. */
	dragged = $state<number | undefined>();
	private loaded = '';
	measures = $state.raw<PulseMeasures>();
	/** The window that they are of. */
	private measured = $state.raw<Window>();
	disagreement = $state.raw<Disagreement>();
	private readonly work = {
		load: new LatestWork(),
		near: new LatestWork(),
		samples: new LatestWork(),
		measure: new LatestWork(),
		compare: new LatestWork()
	};

	readonly mapping: Mapping | undefined = $derived.by(() => this.session.plan.mappings.find((m) => m.id === this.id));
	readonly recording: Recording | undefined = $derived.by(() => this.mapping && this.shelf.find(this.mapping.recording));
	readonly line: RecordedLine | undefined = $derived.by(() => this.recording?.lines.find((l) => l.name === this.mapping?.line));
	readonly frame: LineFrame | undefined = $derived.by(() => this.recording && this.line && frameOf(this.recording, this.line));
	readonly derivation: AimDerivation | undefined = $derived.by(() =>
		this.session.derivation.aims.find((d) => d.aim.id === this.mapping?.aim)
	);
	readonly planned: Planned | undefined = $derived.by(() => this.steady() ?? this.predicted());
	/** How its recording was laid on the plan, and which of the lines laid together it is; undefined while nobody has. */
	laid = $state.raw<{ found: AlignedWire; at: number }>();
	/** Where its recording lies because somebody said so. */
	readonly hand: HandLaying | undefined = $derived.by(() => {
		const typed = this.recording && this.session.plan.layings[this.recording.id];
		const read = typed && readLaying(typed);
		return read?.ok ? read.value : undefined;
	});
	/** How much longer the plan's times are by the recording's clock. */
	readonly ratio: number = $derived.by(() => (this.laid?.found.fits ? this.laid.found.laying.ratio : 1));
	/** The recording's time, in picoseconds, at which the plan's time is 0: as it was laid, or with the first rises of both together. */
	readonly shiftPs: number = $derived.by(() => {
		const { laid, recording } = this;
		if (laid?.found.fits && recording) return laid.found.laying.offset * unitPs(recording);
		return alignment(recording, this.line, this.planned?.source);
	});
	/** What is drawn of the line. */
	readonly wave: Trace | ColumnSource | undefined = $derived.by(() => this.trace ?? this.windowed);
	readonly analogue: AnalogueView | undefined = $derived.by(() => {
		const known = this.line?.analogue;
		if (!known || !this.samples || !this.line) return undefined;
		const { slicing } = this.line;
		const threshold = slicing?.follow === undefined ? (this.dragged ?? slicing?.threshold) : undefined;
		return { ...this.samples, least: known.least, most: known.most, threshold, hysteresis: slicing?.hysteresis ?? 0 };
	});
	/** What an edge of it can be off by. */
	readonly step = $derived.by(() => this.recording && stepOf(this.recording, this.line));
	/** The error that its instrument states, in ppm: its own, or what was typed for this line. */
	readonly instrument: Rational = $derived.by(() => (this.mapping ? statedError(this.session.plan, this.mapping) : Rational.zero));
	/** Too many edges to be compared with the plan here. */
	readonly tooMany: boolean = $derived.by(() => (this.line?.edges ?? 0) > MOST_EDGES);
	readonly verdict: Verdict | undefined = $derived.by(() => {
		if (!this.measures || !this.measured || !this.derivation || !this.recording || !this.mapping) return undefined;
		const evidence = {
			measured: this.measures,
			window: Rational.parse(this.recording.unit).mul(Rational.int(this.measured.end - this.measured.start)),
			step: stepOf(this.recording, this.line),
			instrument: this.instrument
		};
		return judge(this.derivation, this.session.derivation.clocks, evidence, this.mapping.role);
	});
	/** What the pinned suspect would show of it. */
	readonly suspected: Suspected | undefined = $derived.by(() => {
		const { mapping } = this;
		const wave = mapping && this.check.pinned?.waves.find((one) => isOf(one, mapping));
		return wave && suspectedOf(wave);
	});
	suspectLaid = $state.raw<{ found: AlignedWire; at: number }>();
	/** Where its time 0 is drawn, in picoseconds of plan time, and how much longer its times are: as it was laid, or with the first rises of both together. */
	readonly suspectPlace: { ps: number; scale: number } = $derived.by(() => {
		const { suspectLaid: laid, recording, suspected } = this;
		if (laid?.found.fits && recording)
			return { ps: laid.found.laying.offset * unitPs(recording) - this.shiftPs, scale: laid.found.laying.ratio };
		return { ps: alignment(recording, this.line, suspected?.source) - this.shiftPs, scale: 1 };
	});

	/** Another recorded lane that this one is laid on, in place of the plan. */
	before = $state.raw<RecordedLane>();
	/** What it is drawn over and compared with, and its own time at which the time of that is 0. */
	readonly ground: { wire: WireWave; shiftPs: number } | undefined = $derived.by(() => {
		const { before } = this;
		if (!before?.frame) return this.planned && { wire: stretched(this.planned.wire, this.ratio), shiftPs: this.shiftPs };
		return { wire: { kind: 'recorded', frame: before.frame }, shiftPs: this.shiftPs - before.shiftPs };
	});

	constructor(
		private readonly session: PlanSession,
		private readonly shelf: RecordingShelf,
		private readonly check: PlanCheck,
		private readonly prediction: PlanPrediction,
		readonly id: string
	) {}

	/** Where the recording begins and ends, in picoseconds of plan time. */
	get extent(): [number, number] | undefined {
		if (!this.recording || !this.wave) return undefined;
		const unit = unitPs(this.recording);
		return [this.recording.startTime * unit - this.shiftPs, this.recording.endTime * unit - this.shiftPs];
	}

	/** The share of the recording in which it differs from what it is laid on, rounded. */
	get differing(): number {
		return this.recording && this.disagreement ? this.disagreement.share(this.recording.startTime, this.recording.endTime) : 0;
	}

	/** Loads the line's edges. */
	async load(frame: LineFrame): Promise<void> {
		const key = `${frame.url} ${frame.version}`;
		if (this.loaded === key) return;
		this.loaded = key;
		const signal = this.work.load.begin();
		if (frame.edges > HELD) {
			this.windowed?.close();
			this.trace = undefined;
			this.windowed = new WindowedLine(frame, () => this.arrived++);
			this.state = { kind: 'ready' };
			return;
		}
		this.state = { kind: 'loading' };
		try {
			const chunks = await benchWorkers.run((worker) => worker.load(frame), { signal });
			this.trace = new Trace({ unit: Rational.parse(frame.unit), start: frame.start, end: frame.end, initial: frame.initial }, chunks);
			this.windowed?.close();
			this.windowed = undefined;
			this.state = { kind: 'ready' };
		} catch (error) {
			if (!signal.aborted) this.loaded = '';
			this.state = failedState(error, signal) ?? this.state;
		}
	}

	/** Gives up whatever is under way. */
	close(): void {
		for (const work of Object.values(this.work)) work.end();
		this.windowed?.close();
		this.windowed = undefined;
		this.loaded = '';
	}

	/** Loads the edges in sight of a line that is not held, where they are few: cursors keep to them. */
	async loadNear(frame: LineFrame, view: BenchView): Promise<void> {
		const signal = this.work.near.begin();
		const [from, to] = this.inUnits(view);
		try {
			const response = await fetch(`${frame.url}?from=${from}&to=${to}&v=${frame.version}`, { signal });
			if (!response.ok) {
				this.near = undefined;
				return;
			}
			const chunks = unpackChunks(new Uint8Array(await response.arrayBuffer()));
			this.near = new Trace({ unit: Rational.parse(frame.unit), start: frame.start, end: frame.end, initial: frame.initial }, chunks);
		} catch {
			// What is not here yet is only not snapped to.
		}
	}

	/** Loads the samples in sight, half a view more to either side. */
	async loadSamples(frame: LineFrame, view: BenchView): Promise<void> {
		if (!this.line?.analogue || !this.recording) return;
		const signal = this.work.samples.begin();
		const unit = unitPs(this.recording);
		const perColumn = Math.max(view.perColumn, unit * 1e-6);
		const start = view.start - (view.width * perColumn) / 2;
		const count = Math.min(8192, Math.max(16, Math.ceil(2 * view.width)));
		try {
			const from = (start + this.shiftPs) / unit;
			const response = await fetch(`${frame.url}/samples?start=${from}&width=${perColumn / unit}&count=${count}&v=${frame.version}`, {
				signal
			});
			if (response.ok) this.samples = { start, perColumn, bounds: new Float32Array(await response.arrayBuffer()) };
		} catch {
			// They are asked for again when the view moves.
		}
	}

	/** The edge next to a moment of plan time, in picoseconds, asked of the server where the line is not held. */
	async nextEdge(from: number, by: 1 | -1): Promise<number | undefined> {
		const { frame, recording } = this;
		if (!frame || !recording) return undefined;
		const unit = unitPs(recording);
		const response = await fetch(`${frame.url}/next?time=${(from + this.shiftPs) / unit}&by=${by}&v=${frame.version}`);
		if (!response.ok) return undefined;
		const { time } = (await response.json()) as { time: number | null };
		return time === null ? undefined : time * unit - this.shiftPs;
	}

	/** What is in view, in the recording's units. */
	inUnits(view: BenchView): [number, number] {
		const unit = unitPs(this.recording!);
		return [Math.floor((view.start + this.shiftPs) / unit), Math.ceil((view.start + view.width * view.perColumn + this.shiftPs) / unit)];
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

	/** What was predicted of the line, from the plan's time 0 on. */
	predicted(): Planned | undefined {
		if (!this.mapping) return undefined;
		const own = plannedLines(this.prediction.lanes, this.mapping.aim);
		const lane = own.find(({ role }) => role === this.mapping?.role) ?? own[0];
		if (!lane) return undefined;
		const { columns, unit } = lane.trace;
		const { until } = this.prediction;
		return { kind: 'predicted', source: lane.trace, wire: { kind: 'predicted', unit: unit.toString(), columns, until } };
	}
}

/** A wave by another clock. */
function stretched(wire: WireWave, ratio: number): WireWave {
	if (ratio === 1 || wire.kind === 'recorded') return wire;
	const longer = (unit: string) =>
		Rational.parse(unit)
			.mul(Rational.parse(ratio.toFixed(12)))
			.toString();
	return wire.kind === 'steady' ? { ...wire, tick: longer(wire.tick) } : { ...wire, unit: longer(wire.unit) };
}

function alignment(recording: Recording | undefined, line: RecordedLine | undefined, planned: LevelSource | undefined): number {
	if (!recording || !line) return 0;
	const { firstRise: recorded } = line;
	return (recorded ?? recording.startTime) * unitPs(recording) - (recorded !== null && planned ? risePs(planned) : 0);
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
