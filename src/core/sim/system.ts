/**
 * A system of timers as the simulator takes it: plain numbers, every time in cycles of one base clock that all kernel
 * clocks divide. What a timer's mode does not use means nothing.
 */
export type SimMode = 'up' | 'down' | 'updown' | 'free' | 'preload';
export type SimAction = 'none' | 'low' | 'high' | 'toggle';
export type TriggerAction = 'start' | 'reset' | 'restart' | 'gate' | 'clock' | 'capture';
export type SimLevel = 0 | 1;

export type SimOutput =
	| { model: 'level'; sense: 'below' | 'above' }
	| {
			model: 'action';
			edge: 'enter' | 'leave';
			initial: SimLevel;
			zero: SimAction;
			top: SimAction;
			matchUp: SimAction;
			matchDown: SimAction;
	  }
	/** No pin: just a compare whose match can trigger. */
	| { model: 'none' };

export interface SimChannel {
	id: string;
	compare: number;
	output: SimOutput;
	/** Dead time in kernel cycles; set, 0 too: a pair of outputs, `id` and `id.n`. */
	dead?: number;
	/** The pins are low where they are active. */
	inverted: boolean;
}

/** What a trigger comes from: an event or a level of a timer ("start", "update", "match:CH", "level:CH"), or edges of an input. */
export type SimSource = { timer: string; event: string } | { input: string; edge: 'rise' | 'fall' | 'both' };

export interface SimTrigger {
	from: SimSource;
	action: TriggerAction;
	/** Kernel cycles from being seen to acting. */
	latency: number;
}

/** New values at each update, row by row; row 0 stands from the start. A row may leave out registers. */
export interface SimSequence {
	rows: { compare: Record<string, number>; reload?: number }[];
	loop: boolean;
	/** Base cycles from the update to the write. */
	lag: number;
	prefill: boolean;
}

/** A word of bits set and cleared at each update; a bit in both is set. */
export interface SimPattern {
	words: { set: number[]; clear: number[] }[];
	loop: boolean;
	lag: number;
	/** Bits high at first. */
	initial: number[];
}

export interface SimTimer {
	id: string;
	/** Base cycles of one kernel cycle. */
	kernel: number;
	width: number;
	prescale: number;
	mode: SimMode;
	rule: 'inclusive' | 'exclusive';
	reload: number;
	preload: number;
	repeat: number;
	updateAt: 'bottom' | 'top' | 'both';
	oneShot: boolean;
	/** The base cycle of its start, or "trigger". */
	start: number | 'trigger';
	trigger?: SimTrigger;
	buffered: { reload: boolean; compare: boolean };
	channels: SimChannel[];
	sequence?: SimSequence;
	pattern?: SimPattern;
}

export interface SimInput {
	initial: SimLevel;
	/** Times at which the level changes, ascending. */
	edges: ArrayLike<number>;
}

/** A register written by software: "reload", "repeat", "prescale" or "compare:CH". Writes of one cycle act in list order. */
export interface SimWrite {
	at: number;
	timer: string;
	register: string;
	value: number;
}

export interface SimSystem {
	timers: SimTimer[];
	inputs: Record<string, SimInput>;
	/** Ascending in time. */
	writes: SimWrite[];
}
