import type { Hertz, Rational } from '../../exact/index.js';
import type { ClockNodeProfile, PartProfile } from '../../part/index.js';
import type { AimDerivation, TimerUse } from './derivation.js';
import type { AnyAim } from './schema.js';
import type { Updates } from './updates.js';

/** One link of the way from a source to a timer's kernel clock. */
export interface ClockLink {
	node: ClockNodeProfile;
	/** null: stopped, or unknown. */
	hz: Hertz | null;
	/** True when a setting here or before makes no sense: what it would give is not guessed. */
	unknown: boolean;
	/** The factor that the link applies; undefined for a source, a select and a gate. */
	factor?: Rational;
	/** What the plan says of the node, as typed; undefined where it stands as at reset. */
	typed?: string;
}

/** The rates of a resolved clock tree, by node. */
export interface ClockRates {
	/** null: stopped, or unknown. */
	rate: (node: string) => Hertz | null;
	path: (node: string) => ClockLink[];
}

/** What the derivation of one aim may know of its plan. */
export interface AimContext {
	part: PartProfile;
	aims: readonly AnyAim[];
	clocks: ClockRates;
	/** A node's rate with every gate open that the plan does not close: what a timer without an aim would get. */
	openRate: (node: string) => Hertz | null;
	/** The first aim on the same timer, when it is another one. */
	owner?: TimerUse;
	/** Another aim as it is derived; undefined before its turn, or where there is none. */
	derivationOf: (aim: string) => AimDerivation | undefined;
	/** The aims on a timer that are derived already, in the order in which they were. */
	onTimer: (timer: string) => AimDerivation[];
	/** Channels of its timer that an aim needs for itself. */
	channelsOf: (aim: AnyAim) => string[];
	/** How many period events a timer leaves out before each update, and the aim that says so. */
	repeatOn: (timer: string) => { count: number; aim?: AnyAim };
	/** Where a timer's up-down counting updates, and the aim that says so. */
	updatesOn: (timer: string) => { at: Updates; aim?: AnyAim };
	/** The aim whose rows set the period of a timer anew while it runs. */
	periodMover: (timer: string) => AnyAim | undefined;
	/** Channels that aims claim, as "timer channel"; a follower adds the one of its leader that it needs. */
	claimed: Set<string>;
}
