import type { SimInput } from '../../sim/index.js';
import type { Field, FieldProblem } from './fields.js';
import type { InputLines } from './replay.js';
import type { AnyAim } from './schema.js';
import type { Stimulus, StimulusKind } from './stimulus.js';

/** The signals at an aim's inputs: `input`, or `a` and `b` of an encoder, in base cycles. */
export interface InputSignals {
	stimulus: Stimulus;
	lines: InputLines;
	/** Fields that make no sense, by name. */
	problems: Record<string, FieldProblem>;
	/** There would be more edges than are made. */
	cut: boolean;
	/** The recorded line that is not here. */
	missing?: string;
}

/** What may come to the inputs of a kind of aim. */
export interface AimInputs<A extends AnyAim = AnyAim> {
	/** The stimuli that suit, the usual one first. */
	offers: readonly [StimulusKind, ...StimulusKind[]];
	lines: readonly (keyof InputLines)[];
	/** The level before anything comes: high where a fall is waited for. */
	rest(aim: A): SimInput['initial'];
	/** What a fresh stimulus takes from the aim. */
	suggests(aim: A): { rate?: string; from?: string; to?: string; bounce?: string; speed?: string };
	/** Cycles of a line while what turns it turns once; left out: 1. */
	cyclesPerTurn?(aim: A): Field<number>;
}
