import type { SimSystem } from '../core/sim/index.js';
import type { StretchedColumns } from '../core/trace/index.js';

/** A prediction as it crosses from the worker, outputs and updates by name. */
export interface WirePrediction {
	/** Base cycles that were reached. */
	reached: number;
	done: boolean;
	outputs: [string, StretchedColumns][];
	updates: [string, StretchedColumns][];
}

/** What the predict worker does: one system at a time, a new one ends the one before. */
export interface PredictWorker {
	/** Predicts up to base cycle `until`, telling from time to time how far it is; ends early when stopped. */
	predict(system: SimSystem, until: number, onProgress: (reached: number) => void | Promise<void>): Promise<WirePrediction>;
	stop(): void;
}
