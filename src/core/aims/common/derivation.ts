import type { Rational, Hertz, Seconds } from '../../exact/index.js';
import type { Filter } from '../../measure/index.js';
import type { StageSetting, TimerProfile } from '../../part/index.js';
import type { Counting } from '../../timer/index.js';
import type { ClockLink } from './context.js';
import type { FieldProblem } from './fields.js';
import type { PulseSetting } from './pulse.js';
import type { AnyAim } from './schema.js';
import type { Updates } from './updates.js';

export type LinkName =
	| 'prescale'
	| 'reload'
	| 'compare'
	| 'dead'
	| 'repeat'
	| 'preload'
	| 'bit'
	| 'advance'
	| 'every'
	| 'times'
	| 'lead'
	| 'second'
	| 'factors'
	| 'postscale';

/** A register or a choice of the derivation strip. */
export interface StripLink {
	name: LinkName;
	value: number;
	/** What the register holds and its width in bits; left out where there is none. */
	register?: { value: number; width: number };
	/** The link can be held. */
	holds?: boolean;
	/** Several numbers instead of one. */
	list?: number[];
	/** Registers of the stages that make it together, each with the ratio that it stands for. */
	stages?: StageSetting[];
}

/** A wish beside what it comes to; what is left out has nothing to show. */
export interface ComparisonRow {
	name: string;
	wished?: Quantified;
	achieved?: Quantified;
	off?: Quantified;
}

/** An exact number with its unit. */
export interface Quantified {
	value: Rational;
	unit: Unit;
}

/** A named exact number that comes out of an aim. */
export interface Figure extends Quantified {
	name: string;
	/** Not shown at the strip. */
	minor?: boolean;
}

export type Unit =
	'Hz' | 's' | 'ppm' | '%' | 's/day' | 'counts' | 'ticks' | 'cycles' | 'deg' | 'turns/s' | 'bits' | 'words' | '' | (string & {});

/** What is wrong or worth knowing, as data. */
export type AimProblem = { severity: 'fault' | 'warning' } & AimTrouble;

export type AimTrouble =
	/** What should be impossible; the reason is for us. */
	| { code: 'derivation-failed'; reason: string }
	| { code: 'mode-missing'; mode: string; timer: string }
	| { code: 'kernel-stopped'; timer: string }
	| { code: 'timer-missing'; timer: string }
	/** `of`: what kind of thing is missing; left out: a channel, an input or a way. */
	| { code: 'place-missing'; what: string; of?: 'filter' | 'every'; timer: string }
	| { code: 'cannot-job'; timer: string; kind: string }
	| { code: 'time-too-long'; wish: Rational; longest: Rational; reach: ReachBy[] }
	| { code: 'time-too-short'; wish: Rational; shortest: Rational }
	| { code: 'time-outside'; ppm: Rational; tolerance: Rational; seconds: Rational; wish: Rational }
	| { code: 'reload-shared'; other: string; hz: Rational; wish: Rational }
	/** `kept`: what the register would hold of it; `unmet`: it fits the register, but the counter never gets there. */
	| { code: 'lock-refused'; link: LinkName; value: number; limit: number; kept?: number; unmet?: boolean }
	| { code: 'reload-blocks' }
	/** `got`: what they give, in the unit of the wish; left out where they give nothing at all. */
	| { code: 'locks-conflict'; links: LinkName[]; got?: Rational; wish: Rational; unit: 'Hz' | 's' | 'counts' }
	| { code: 'lock-overruled'; links: LinkName[]; other: string }
	| { code: 'service-over-period'; load: Rational }
	| { code: 'service-heavy'; load: Rational }
	| { code: 'no-interrupt'; timer: string; event: string }
	| { code: 'software-late'; ticks: number; mode: 'clear' | 'preload'; better?: 'up' | 'advance' }
	| { code: 'range-reversed' }
	| { code: 'capture-wraps'; lowest: Rational; wish: Rational }
	| { code: 'capture-coarse'; step: Rational; wanted: Rational; hz: Rational }
	| { code: 'capture-service'; most: Rational; wish: Rational }
	| { code: 'gate-coarse'; step: Rational; wanted: Rational; hz: Rational; gate: Rational }
	| { code: 'gate-full'; most: Rational; wish: Rational }
	| { code: 'width-wraps'; longest: Rational; wish: Rational }
	| { code: 'width-coarse'; step: Rational; wanted: Rational }
	| { code: 'width-service'; shortest: Rational; wish: Rational }
	| { code: 'counts-do-not-fit'; counts: number; limit: number }
	| { code: 'counts-not-whole'; counts: Rational }
	| { code: 'start-outside'; start: number; last: number }
	| { code: 'units-differ' }
	| { code: 'filter-too-slow'; window: Rational; spacing: Rational; fits?: number }
	| { code: 'dead-too-long'; wish: Rational; longest: Rational }
	| { code: 'swallowed'; side: 'main' | 'complementary'; pulse: Rational; dead: Rational }
	| { code: 'repeat-refused'; value: number; limit: number }
	| { code: 'repeat-shared'; value: number; count: number; other: string }
	| { code: 'updates-refused'; wished: Updates; timer: string }
	| { code: 'updates-shared'; wished: Updates; at: Updates; other: string }
	/** Only up-down counting has two ends. */
	| { code: 'updates-idle'; mode: string }
	/** Rows of another aim set the period anew while the timer runs. */
	| { code: 'period-moves'; timer: string; other: string }
	/** A timer sends one stream of words. */
	| { code: 'stream-taken'; timer: string; other: string }
	| { code: 'duty-outside'; wanted: Rational }
	| { code: 'held-compare-off'; held: number; compare: number; duty: Rational; wished: Rational }
	| { code: 'bounce-longer'; bounce: Rational; pulse: Rational }
	| { code: 'bounce-restarts'; bounce: Rational }
	| { code: 'timer-taken'; timer: string; other: string }
	| { code: 'mode-clash'; timer: string; other: string }
	| { code: 'software-clamp' }
	| { code: 'frame-outside'; ppm: Rational; tolerance: Rational; seconds: Rational; wish: Rational }
	| { code: 'factors-too-many'; count: number; factor: number }
	| { code: 'width-over-frame'; output: string; width: Rational; frame: Rational }
	| { code: 'width-below-tick'; output: string; width: Rational; tick: Rational }
	| { code: 'leader-missing' }
	| { code: 'leader-ring' }
	| { code: 'leader-unclear'; leader: string }
	| { code: 'leader-full'; leader: string; timer: string }
	| { code: 'no-route'; event: string; from: string; to: string; input: string; nearest?: { input: string; timer: string } }
	/** `input` left out: no input of the timer has it. */
	| { code: 'no-action'; action: string; input?: string; timer: string }
	| { code: 'lag-outside'; lag: Rational; wish: Rational; off: Rational; allowed: Rational; degrees: Rational }
	| { code: 'lag-beyond'; wish: Rational; period: Rational }
	| { code: 'lag-below-latency'; wish: Rational; latency: Rational }
	/** Readings of a counter that goes through its values both ways tell no time. */
	| { code: 'elapsed-both-ways' }
	| { code: 'reading-never'; values: number[]; first: number; last: number }
	| { code: 'drifts'; ppm: Rational }
	/** Resets come before or after its own period is over. */
	| { code: 'reset-cuts'; ppm: Rational }
	/** The compare of a match that comes twice a period, and so resets twice. */
	| { code: 'lead-twice'; compare: number; reload: number }
	/** A match that never comes, or whose compare rows move. */
	| { code: 'lead-unmet'; compare: number; channel: string }
	| { code: 'lead-moves'; channel: string; other: string }
	| { code: 'trigger-shared'; timer: string; other: string }
	| { code: 'gate-never'; channel: string }
	| { code: 'gate-short'; on: Rational; period: Rational }
	| { code: 'part-as-percent'; typed: string; exact: string }
	| { code: 'base-outside'; ppm: Rational; tolerance: Rational; hz: Rational; wish: Rational }
	| { code: 'rows-too-few'; rows: Rational }
	| { code: 'rows-too-many'; rows: Rational; limit: number }
	| { code: 'row-unread'; row: number }
	/** A row with more or fewer values than there are outputs. */
	| { code: 'row-uneven'; row: number; values: number; wanted: number }
	| { code: 'row-outside'; row: number; duty: Rational }
	| { code: 'output-off'; timer: string }
	| { code: 'interrupt-off'; timer: string }
	| { code: 'flag-kept'; timer: string }
	| { code: 'priority-differs'; priority: string; handler: string }
	/** What a count shall drive is no pulse with a compare. */
	| { code: 'knob-nothing'; other?: string }
	/** The range has more counts than the duty has steps. */
	| { code: 'knob-idle'; counts: number; steps: Rational }
	/** Slow legs carry the half waves of two outputs. */
	| { code: 'legs-need-halves' }
	| { code: 'legs-late'; after: Rational; half: Rational }
	| { code: 'table-late' }
	| { code: 'unbuffered' }
	| { code: 'cannot-buffer'; timer: string; writes: 'buffered' | 'immediate' }
	| { code: 'write-late'; lag: Rational; period: Rational }
	| { code: 'not-paced'; timer: string }
	| { code: 'pattern-breaks'; most: Rational; period: Rational }
	| { code: 'lags-reversed' }
	| { code: 'bit-twice'; bit: number; lines: [string, string] }
	/** A line's pin is another bit of its port, or of another port than the first line's. */
	| { code: 'bit-not-pin'; line: string; index: number; pin: string; bit: number; own: number }
	| { code: 'ports-differ'; line: string; pin: string; port: string; other: string }
	| { code: 'lines-uneven'; line: string; words: number; longest: number }
	| { code: 'pattern-empty' }
	| { code: 'channel-missing'; timer: string; channel: string }
	| { code: 'channel-no-pulse'; timer: string; channel: string; open: boolean }
	| { code: 'rate-too-slow'; wish: Rational; lowest: Rational; reach: ReachBy[] }
	| { code: 'rate-too-fast'; wish: Rational; highest: Rational }
	| { code: 'rate-outside'; ppm: Rational; tolerance: Rational; hz: Rational; wish: Rational }
	| { code: 'bits-short'; bits: number; wanted: number; ticks: number }
	| { code: 'duty-over-period'; wanted: Rational; ticks: number }
	| { code: 'duty-below-zero'; wanted: Rational }
	| { code: 'duty-coarse'; error: Rational; step: Rational }
	| { code: 'full-duty-unreachable'; most: number; ticks: number }
	| { code: 'no-duty-unreachable'; least: number; ticks: number }
	| { code: 'sweep-empty' };

/** What would reach a time that is too long for a timer. */
export type ReachBy = { by: 'timer'; timer: string } | { by: 'cascade'; timer: string } | { by: 'software'; count: number };

/** What a press on a candidate sets: links to hold, and fields. */
export interface CandidateEdit {
	locks?: Record<string, string>;
	fields?: Record<string, string>;
}

/** A number, a name that the plan gives, nothing, or a period in which a row is already under way. */
export type TableCell = Rational | string | null | { code: 'under-way'; period: Rational };

/** A small table that weighs the choices: rows of exact numbers under named columns. */
export interface AimTable {
	columns: { name: string; unit: Unit }[];
	rows: {
		values: TableCell[];
		chosen: boolean;
		edit?: CandidateEdit;
	}[];
	/** Any row by its first column, `first` to `last`, where the table shows a choice of them; undefined where there is none between. */
	ask?: { first?: number; last: number; row: (first: number) => TableCell[] | undefined };
}

/** Curves for the chart, in plain numbers: they are drawn, never counted on. */
export interface AimChart {
	code: 'step' | 'map' | 'rows' | 'range' | 'error' | 'filter' | 'averaged' | 'spectrum';
	series: { label: string; number?: number; points: [number, number][] }[];
	/** The stretch of x that the aim asks for, and the value of y. */
	range?: [number, number];
	wanted?: number;
	/** The points are candidates: what taking each one sets, and which is taken. */
	edits?: CandidateEdit[];
	chosen?: number;
	unit?: string;
}

/** A wished rate of events as the trade-off chart asks for it. */
export interface Tradeoff {
	counting: Counting;
	kernel: Hertz;
	/** The rate of events. */
	wish: Hertz;
	tolerance?: Rational;
	bits?: number;
	now?: { prescale: number; reload: number; ticks: number; ppm: Rational };
}

/** How a count becomes another aim's compare: active ticks at the first count, and at the end of the range, `whole` counts later. */
export interface Knob {
	/** The aim that is driven, and the channel whose compare is written. */
	aim: string;
	channel: string;
	low: Rational;
	high: Rational;
	whole: number;
}

/** Ways of reading a rate, from the lowest rates up: edges a reading, and the rates at which software leaves the way upwards and downwards. */
export interface Switching {
	ways: { every: number; up?: Rational; down?: Rational }[];
	/** Above all of them edges are counted for a gate. */
	gate?: { seconds: Rational; down: Rational };
}

/** A wished value; no allowance: it must come out as it is. */
export interface Wish {
	value: Rational;
	ppm?: Rational;
	absolute?: Rational;
}

/** What a running timer does beside what its strip says, for the simulator. */
export interface Run {
	/** Ticks, and time, from one event to the next; what the way of counting keeps in its register, and ticks by which software is late. */
	interval?: { ticks: number; seconds: Seconds; value: number; late: number };
	dead?: Seconds;
	/** From an update to what is written for it. */
	lag?: Seconds;
	/** The same at the most, where it varies. */
	lagMost?: Seconds;
	/** Compares by channel, and a reload, one row an update. */
	rows?: { compare: Record<string, number>; reload?: number }[];
	/** Slow legs of a bridge: the rows of a pass at whose updates they are switched, one carrying after the other, and the time with both off. */
	legs?: { plusAt: number; minusAt: number; rows: number; dead: Seconds };
	knob?: Knob;
	/** What averages a pin. */
	filter?: Filter;
	/** How a rate is read: by which counts of edges, and by a gate. */
	switching?: Switching;
	/** Outputs that software holds high for so many ticks of a frame. */
	counted?: { name: string; ticks: number }[];
}

/** What an aim that decided prescale and reload of a timer, or its free running, leaves to the others on it. */
export interface TimerUse {
	aim: AnyAim;
	/** Counting with a reload, or freely over the whole width. */
	kind: 'period' | 'free' | 'alone';
	counting?: Counting;
	prescale: number;
	reload?: number;
}

/** An aim, worked out as far as its fields can be read. */
export interface AimDerivation<A extends AnyAim = AnyAim> {
	aim: A;
	timer?: TimerProfile;
	clock: ClockLink[];
	kernel: Hertz | null;
	/** Fields that make no sense, by name. */
	fields: Record<string, FieldProblem>;
	strip: StripLink[];
	figures: Figure[];
	/** The formula with its numbers: a code for the wording, and the numbers by name. */
	formulas: { code: string; numbers: Record<string, Rational> }[];
	problems: AimProblem[];
	table?: AimTable;
	charts?: AimChart[];
	tradeoff?: Tradeoff;
	/** How the aim uses its timer; left out as long as it is not derived. */
	use?: TimerUse;
	/** The aim that decides prescale and reload of the shared timer, when it is another one. */
	sharedWith?: AnyAim;
	run: Run;
	/** What its output does each period, where a compare shapes it. */
	pulse?: PulseSetting;
	/** Wished values by name, each with what the aim allows it to be off by: ppm of it, or in its own unit. */
	wishes?: Record<string, Wish>;
	/** Wishes beside what they come to. */
	comparison?: ComparisonRow[];
	/** Values that registers take while it runs, besides those of the strip; widths in bits. */
	later?: { name: string; value: number; width: number }[];
	/** A follower's way from its leader, an aim: the event, its own input, what that does, and the kernel cycles until it does. `lead`: the compare whose match it is. */
	route?: { leader: string; source: string; input: string; action: string; latency: number; lead?: number };
	/** Words of a pattern. */
	words?: { set: number; clear: number }[];
}
