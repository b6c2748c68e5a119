import type { Averaged, Fired, Outcome, PlanScore, PlannedSystem, ScoreStave, Variant } from '../core/predict/index.js';
import type { Misread, ReadingKind } from '../core/aims/index.js';
import type { Plan } from '../core/plan/index.js';
import type { StretchedColumns, ValueColumns } from '../core/trace/index.js';
import type { LineFrame } from './benchWire.js';
import type { Go } from './pool.js';

/** Kinds of events that a lane marks. */
export type EventMark = 'update' | 'match' | 'capture' | 'interrupt' | 'write' | 'effect';

/** What a lane draws, as plain data. Times are base cycles. */
export type WireDrawn =
	| { kind: 'level'; columns: StretchedColumns }
	/** `lines`: registers drawn across; `top`: the greatest value. */
	| { kind: 'value'; columns: ValueColumns; lines: { name: string; columns: ValueColumns }[]; top: number; unit: string }
	/** `busy`: base cycles that a service takes after each interrupt. */
	| { kind: 'events'; sets: { mark: EventMark; columns: StretchedColumns }[]; busy: number };

export interface WireLane {
	aim: string;
	role: string;
	detail: boolean;
	/** How a list's writes are taken in this lane, where it is one of the two outcomes; `whatIf`: it is not the plan's own. */
	outcome?: Variant['outcome'];
	whatIf?: boolean;
	drawn: WireDrawn;
	/** Stretches, from and to, that belong to no setting. */
	glitches?: [number, number][];
}

/** What an aim that listens read. */
export interface WireReplay {
	aim: string;
	reads: Exclude<ReadingKind, { kind: 'gated' }> | { kind: 'gated'; gate: string };
	tickRate: string;
	edges: number;
	accepted: number;
	at: Float64Array;
	counts: Float64Array;
	truth: Float64Array;
	wrong: (Misread | '')[];
	over?: Float64Array;
	came?: Float64Array;
}

/** A prediction as it crosses from the worker. */
export interface WirePrediction {
	/** Seconds of a base cycle, "num/den". */
	unit: string;
	/** Base cycles that were reached. */
	reached: number;
	done: boolean;
	lanes: WireLane[];
	unplanned: PlannedSystem['unplanned'];
	replays: WireReplay[];
	/** Pulses that a one-shot fires within what its input brings. */
	fired: Fired[];
	inputs: { aim: string; cut: boolean; missing?: string }[];
	outcomes: Outcome[];
	averages: Averaged[];
}

/** A score as it crosses from the worker. */
export interface WireScore extends Omit<PlanScore, 'unit' | 'staves'> {
	unit: string;
	staves: (Omit<ScoreStave, 'counter'> & { columns: ValueColumns })[];
}

/** Where a recorded line of a recording is. */
export interface RecordedFrame {
	recording: string;
	line: string;
	frame: LineFrame;
}

/** What the predict worker does. */
export interface PredictWorker {
	/**
	 * Predicts for so many seconds, telling from time to time how many are done; told to stop it gives what it has, told to
	 * drop it gives null. `lines`: recorded lines that stimuli name.
	 */
	predict(
		plan: Plan,
		lines: RecordedFrame[],
		seconds: number,
		onProgress: (seconds: number) => Go | Promise<Go>
	): Promise<WirePrediction | null>;
	/** Only the lists of writes, taken both ways, over the time that they take. */
	outcomes(plan: Plan): Promise<{ unit: string; outcomes: Outcome[] }>;
	/** The counters of a score. */
	score(plan: Plan): Promise<WireScore>;
}
