import { type AimDerivation, readInstrument, waveOf } from '../../../core/aims/index.js';
import type { Mapping } from '../../../core/plan/index.js';
import { type Suspect, type Verdict, findSuspects, judge } from '../../../core/check/index.js';
import { Rational } from '../../../core/exact/index.js';
import type { PulseMeasures, Window } from '../../../core/measure/index.js';
import { steadyWave } from '../../../core/timer/index.js';
import { Disagreement, Trace, type PeriodicWave } from '../../../core/trace/index.js';
import { benchWorker } from '../../../workers/client.js';
import { fromWire, type WireWave } from '../../../workers/benchWire.js';
import { frameOf, unitPs, type RecordedLine, type Recording, type RecordingShelf } from '../../session/recordings.svelte.js';
import type { PlanSession } from '../../session/session.svelte.js';
import type { BenchView } from './view.svelte.js';

/** A recorded line held against its aim: what the bench shows of one mapping. */
export class BenchLane {
	trace = $state.raw<Trace>();
	measures = $state.raw<PulseMeasures>();
	disagreement = $state.raw<Disagreement>();
	failed = $state('');

	readonly mapping: Mapping | undefined = $derived.by(() => this.session.plan.mappings.find((m) => m.id === this.id));
	readonly recording: Recording | undefined = $derived.by(() => this.mapping && this.shelf.find(this.mapping.recording));
	readonly line: RecordedLine | undefined = $derived.by(() => this.recording?.lines.find((l) => l.name === this.mapping?.line));
	readonly derivation: AimDerivation | undefined = $derived.by(() =>
		this.session.derivation.aims.find((d) => d.aim.id === this.mapping?.aim)
	);
	readonly wave: PeriodicWave | null = $derived.by(() => {
		const pulse = this.derivation?.pulse;
		return pulse ? steadyWave(waveOf(pulse), pulse.tickRate.inverse()) : null;
	});
	/** The recording's time, in picoseconds, at which the plan's time is 0: the first rise of both is laid together. */
	readonly shiftPs: number = $derived.by(() => alignment(this.trace, this.wave));
	readonly verdict: Verdict | undefined = $derived.by(() => {
		if (!this.measures || !this.derivation || !this.recording || !this.mapping) return undefined;
		const instrument = readInstrument(this.mapping.instrument);
		return judge(this.derivation, this.session.derivation.clocks, {
			measured: this.measures,
			resolution: Rational.parse(this.recording.resolution),
			instrument: instrument.ok ? instrument.value : Rational.zero
		});
	});
	readonly suspects: Suspect[] = $derived.by(() =>
		this.verdict && this.derivation ? findSuspects(this.session.plan, this.derivation, this.verdict) : []
	);

	constructor(
		private readonly session: PlanSession,
		private readonly shelf: RecordingShelf,
		readonly id: string
	) {}

	/** Where the recording begins and ends, in picoseconds of plan time. */
	get extent(): [number, number] | undefined {
		if (!this.recording || !this.trace) return undefined;
		const unit = unitPs(this.recording);
		return [this.recording.startTime * unit - this.shiftPs, this.recording.endTime * unit - this.shiftPs];
	}

	/** Loads the line's edges. */
	async load(recording: Recording, line: RecordedLine): Promise<void> {
		const frame = frameOf(recording, line);
		try {
			const chunks = await benchWorker().load(frame);
			this.trace = new Trace({ unit: Rational.parse(frame.unit), start: frame.start, end: frame.end, initial: frame.initial }, chunks);
			this.failed = '';
		} catch (error) {
			this.failed = error instanceof Error ? error.message : String(error);
		}
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

	async measure(url: string, window: Window): Promise<void> {
		this.measures = fromWire(await benchWorker().measure(url, window));
	}

	async compare(url: string, wave: WireWave, shift: number): Promise<void> {
		const columns = await benchWorker().disagree(url, wave, shift);
		this.disagreement = columns ? new Disagreement(columns) : undefined;
	}
}

function alignment(trace: Trace | undefined, wave: PeriodicWave | null): number {
	if (!trace) return 0;
	const unit = trace.unit.toNumber() * 1e12;
	const recorded = firstRise(trace, trace.count);
	return (recorded ?? trace.meta.start) * unit - (recorded !== undefined && wave ? risePs(wave) : 0);
}

/** When a wave first rises from its time 0 on, in picoseconds; 0 for a steady one. */
export function risePs(wave: PeriodicWave): number {
	return (firstRise(wave, 2) ?? 0) * wave.unit.toNumber() * 1e12;
}

function firstRise(source: Trace | PeriodicWave, edges: number): number | undefined {
	for (let edge = 0; edge < edges; edge++) {
		if (source.levelAfter(edge) === 0 && source.levelAfter(edge + 1) === 1) return source.edgeTime(edge);
	}
	return undefined;
}
