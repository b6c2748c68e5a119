import type { Laying } from '../core/align/index.js';
import type { Plan } from '../core/plan/index.js';
import type { PlainCheck, SuspectWave } from '../core/suspects/index.js';
import type { LineFrame } from './benchWire.js';
import type { Go } from './pool.js';

/** A recorded line and what it shows; rationals as "num/den". */
export interface LineToCheck {
	frame: LineFrame;
	/** The recording's id: its lines share a clock. */
	recording: string;
	line: string;
	aim: string;
	role: string;
	/** What an edge can be off by, in seconds, and the sampling where edges lie between samples. */
	step: string;
	raster?: string;
	/** In ppm. */
	instrument: string;
	/** Its recording was laid by hand: seconds. */
	laying?: Laying;
}

/** How far a check is. */
export interface CheckProgress {
	share: number;
	/** The verdicts, with the suspects still to come. */
	verdicts?: PlainCheck;
}

/** A check, and by row of its evidence the waves that would be seen. */
export interface Checked {
	check: PlainCheck;
	waves: SuspectWave[][];
}

/** What the check worker does. */
export interface CheckWorker {
	/**
	 * Holds lines and the plan's own readings and sweeps against it. Tells how far it is, from 0 to 1, and the verdicts as soon as they are known.
	 * null: it was told to end.
	 */
	check(plan: Plan, lines: LineToCheck[], onProgress: (told: CheckProgress) => Go | Promise<Go>): Promise<Checked | null>;
}
