import type { z } from 'zod';
import type { ChannelProfile, TimerProfile } from '../../part/index.js';
import type { SystemBuilder, Unplanned } from './build.js';
import type { AimContext } from './context.js';
import type { AimDerivation } from './derivation.js';
import type { PlannedQuantity } from './expect.js';
import type { AimInputs } from './inputs.js';
import type { RegisterQuantities } from './quantities.js';
import type { AnyAim } from './schema.js';
import type { Relation } from './relations.js';
import type { Turned } from './turned.js';
import type { Updates } from './updates.js';

/**
 * How an aim uses its timer: with a reload that others may share, the same on another timer's events or while they let it,
 * freely counting over the whole width, or for itself alone.
 */
export type TimerUseKind = 'period' | 'driven' | 'free' | 'alone';

/** A pin that an aim needs besides those of its channels. */
export interface PinNeed {
	/** What of the timer is led out, or the name of a port's line. */
	what: string;
	/** A pin of a port, by id or name, as typed. */
	port?: string;
	/** Nobody minds when it has none. */
	optional?: boolean;
}

/**
 * What an aim's software does: it takes the time between captured edges (of any, or of the one that begins a level and the one that ends
 * it), counts edges for a gate time, holds a position, counts ticks or outputs out of ticks, or has words carried to a port. `hangs`: on
 * more than registers.
 */
export type Software =
	| { does: 'spans'; channel: string; laps: boolean; level?: 'high' | 'low' }
	| { does: 'gates' }
	| { does: 'places'; held: boolean }
	| { does: 'ticks' }
	| { does: 'levels' }
	| { does: 'words' }
	| { does: 'hangs' };

/** Everything that the house knows of one kind of aim. The registry has one of each. */
export interface AimKind<A extends AnyAim = AnyAim> {
	readonly kind: A['kind'];
	readonly schema: z.ZodType<A>;
	/** What a fresh aim says beyond its head. */
	readonly fresh: Omit<A, keyof AnyAim>;
	/** Another aim can follow its timer. */
	readonly leads: boolean;
	/** Its rows are written at the updates of its timer. */
	readonly feedsUpdates?: boolean;
	/** Its channels are outputs. */
	readonly drives?: boolean;
	/** A list of writes may change its compare. */
	readonly compareCanChange?: boolean;
	/** What comes to its inputs; left out: it has none. */
	readonly inputs?: AimInputs<A>;
	/** The figures that say most of it. */
	readonly mainFigures: readonly string[];

	timerUse(aim: A): TimerUseKind;
	/** Channels of its timer that it needs for itself. */
	channels(aim: A, timer: TimerProfile | undefined): string[];
	/** Pins besides those of its channels. */
	pins?(aim: A): PinNeed[];
	/** Period events that its timer leaves out before each update, as typed; left out: it has no say. */
	repeat?(aim: A): string;
	/** Where up-down counting shall update; left out: it has no say. */
	updates?(aim: A): 'auto' | Updates;
	/** Does it set the timer's period anew while it runs? */
	movesPeriod?(aim: A): boolean;
	/** The aim that it follows, by id. */
	leader?(aim: A): string;
	/** Other aims whose derivations it asks for, without following them, by id. Nothing may hang on such an aim. */
	asks?(aim: A): string[];
	/** Does software serve its events by an interrupt? Left out: never. */
	served?(aim: A): boolean;
	/** What its software does while it runs; left out, or undefined: nothing. */
	software?(aim: A): Software | undefined;
	/** Can the timer do such a job at all? */
	serves(timer: TimerProfile): boolean;
	/** Channels of a timer that can do it; empty where it needs none. */
	channelsOn(timer: TimerProfile): ChannelProfile[];
	/** The aim on a timer that can do it, with what that timer offers; undefined where the aim's own choices forbid it. `free`: the first free one of some channels. */
	settle(aim: A, timer: TimerProfile, free: (channels: readonly ChannelProfile[]) => string): A | undefined;
	/** A fresh aim beside the first of its kind on a timer, with what they share; left out: a fresh one looks for a timer of its own. */
	join?(aim: A, first: A): A;
	/** Works the aim out (timers.md). What it throws on a valid plan is a mistake of ours, and becomes a finding of this aim. */
	derive(aim: A, context: AimContext): AimDerivation<A>;
	/** Puts a derived aim on its timer in the simulated system and gives it its lanes. */
	build(builder: SystemBuilder, derivation: AimDerivation<A>): Unplanned | undefined;
	/** Its formulas turned around, besides those of a rate and a duty. */
	turned?(derivation: AimDerivation<A>): (Turned | undefined)[];
	/** What it reads or counts of what comes; `other`: another aim's derivation. What it gives as its formulas say need not be told. */
	relations?(derivation: AimDerivation<A>, other: (id: string) => AimDerivation | undefined): Relation[];
	/** What its pins should show (timers.md 13). */
	expect(derivation: AimDerivation<A>): PlannedQuantity[];
	/** What its timer's registers are set to (handoff.md 5). */
	set(derivation: AimDerivation<A>): RegisterQuantities;
}
