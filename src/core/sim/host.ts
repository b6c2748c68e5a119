/** What acts on a timer at one of its kernel cycles, as bits. */
export const START = 1;
export const RESET = 2;
export const RESTART = 4;
export const CLOCK = 8;
export const CAPTURE = 16;

/** Events that a timer raises, as numbers: start, update, then each channel's match. */
export const EVENT_START = 0;
export const EVENT_UPDATE = 1;
export const EVENT_MATCH = 2;

/** Registers, as numbers; compares follow in the order of the channels. */
export const RELOAD = 0;
export const PRESCALE = 1;
export const REPEAT = 2;
export const COMPARE = 3;

/** What a machine tells the simulation that runs it. */
export interface Host {
	raise: (timer: number, event: number, time: number) => void;
	updated: (timer: number, time: number) => void;
	/** A period ended without an update: the repeat count left it out. */
	skipped: (timer: number, time: number) => void;
	captured: (timer: number, time: number, value: number) => void;
	pin: (output: number, time: number, level: 0 | 1) => void;
	/** A channel's reference changed. */
	reference: (timer: number, channel: number, time: number, level: 0 | 1) => void;
	matched: (timer: number, channel: number, time: number) => void;
	/** The counter holds `value` from `time` on and goes on by one every |step| base cycles, of which `lead` are over; step 0: it stands. */
	ramp: (timer: number, time: number, value: number, step: number, lead: number) => void;
	/** Software writes a register. */
	written: (timer: number, time: number) => void;
	/** A register takes a value. */
	took: (timer: number, time: number, register: number, value: number) => void;
}
