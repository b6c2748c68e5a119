/**
 * A system of timers as the simulator takes it: plain numbers, every time in cycles of one base clock that all kernel
 * clocks divide. What a timer's mode does not use means nothing.
 */
export type SimMode = 'up' | 'down' | 'updown' | 'free' | 'preload' | 'tap' | 'advance' | 'clear';
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
	/** Its compare waits for an update, or acts at once; left out: as the timer's compares do. */
	buffered?: boolean;
}

/** What a trigger comes from: an event or a level of a timer ("start", "update", "match:CH", "level:CH"), or edges of an input. */
export type SimSource = { timer: string; event: string } | { input: string; edge: 'rise' | 'fall' | 'both' };

export interface SimTrigger {
	from: SimSource;
	action: TriggerAction;
	/** Kernel cycles from being seen to acting. */
	latency: number;
}

/** Base cycles from an update to what software does for it: always as many, or within a range, both ends included. */
export type SimLag = number | { least: number; most: number };

/** New values at updates, row by row; row 0 stands from the start. A row may leave out registers. */
export interface SimSequence {
	rows: { compare: Record<string, number>; reload?: number; prescale?: number }[];
	loop: boolean;
	/** From the update to the write. */
	lag: SimLag;
	prefill: boolean;
	/** A row at every n-th update; 1 when left out. */
	every?: number;
	/** Base cycles between the writes of one row's registers; left out: all at once. */
	apart?: number;
	/** Reload and prescale are written before the compares. */
	reloadFirst?: boolean;
}

/** A word of bits set and cleared at each update; a bit in both is set. */
export interface SimPattern {
	/** `then`: bits that go so many base cycles after the others. */
	words: { set: number[]; clear: number[]; then?: { after: number; set: number[]; clear: number[] } }[];
	loop: boolean;
	lag: SimLag;
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
	/** `preload` and `clear`: ticks by which software is late; left out for `preload`: hardware reloads. */
	late?: number;
	/** `tap`: the bit whose rise is the event. */
	bit?: number;
	/** `advance`: what software adds to the compare, which is kept in `reload`. `clear` keeps its compare there too. */
	advance?: number;
	repeat: number;
	updateAt: 'bottom' | 'top' | 'both';
	oneShot: boolean;
	/** The base cycle of its start, or "trigger". */
	start: number | 'trigger';
	trigger?: SimTrigger;
	buffered: { reload: boolean; compare: boolean };
	channels: SimChannel[];
	/** Each writes its own rows; those of one update in list order. */
	sequences?: SimSequence[];
	pattern?: SimPattern;
	/** Pins that software switches at updates, besides. */
	legs?: SimPattern;
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
