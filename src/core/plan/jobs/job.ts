import type { Hertz, Rational } from '../../exact/index.js';
import type { TimerProfile } from '../../part/index.js';
import type { ClockLink, PlanClocks } from '../clocks.js';
import type { Plan } from '../document.js';
import type { Field, FieldProblem } from '../fields.js';
import type { JobAim } from './aims.js';

/** A register or a choice of the derivation strip. */
export interface StripLink {
	name: 'prescale' | 'reload' | 'compare' | 'dead' | 'repeat' | 'preload' | 'bit' | 'advance' | 'every' | 'times';
	value: number;
	/** What the register holds and its width in bits; left out where there is none. */
	register?: { value: number; width: number };
}

/** A named exact number that comes out of an aim. */
export interface Figure {
	name: string;
	value: Rational;
	unit: 'Hz' | 's' | 'ppm' | '%' | 's/day' | 'counts' | 'ticks' | 'deg' | 'turns/s' | '';
}

/** What is wrong or worth knowing, as data. */
export type JobProblem = { severity: 'fault' | 'warning' } & JobTrouble;

export type JobTrouble =
	| { code: 'mode-missing'; mode: string; timer: string }
	| { code: 'kernel-stopped'; timer: string }
	| { code: 'timer-missing'; timer: string }
	| { code: 'place-missing'; what: string; timer: string }
	| { code: 'cannot-job'; timer: string; job: JobAim['kind'] }
	| { code: 'time-too-long'; wish: Rational; longest: Rational }
	| { code: 'time-too-short'; wish: Rational; shortest: Rational }
	| { code: 'time-outside'; ppm: Rational; tolerance: Rational; seconds: Rational; wish: Rational }
	| { code: 'service-over-period'; load: Rational }
	| { code: 'service-heavy'; load: Rational }
	| { code: 'range-reversed' }
	| { code: 'capture-wraps'; lowest: Rational; wish: Rational }
	| { code: 'capture-coarse'; step: Rational; wanted: Rational; hz: Rational }
	| { code: 'capture-service'; most: Rational; wish: Rational }
	| { code: 'counts-do-not-fit'; counts: number; limit: number }
	| { code: 'counts-not-whole'; counts: Rational }
	| { code: 'filter-too-slow'; window: Rational; spacing: Rational }
	| { code: 'dead-too-long'; wish: Rational; longest: Rational }
	| { code: 'swallowed'; side: 'main' | 'complementary'; pulse: Rational; dead: Rational }
	| { code: 'repeat-refused'; value: number; limit: number }
	| { code: 'duty-outside'; wanted: Rational }
	| { code: 'timer-taken'; timer: string; other: string }
	| { code: 'software-clamp' };

/** A small table that weighs the choices: rows of exact numbers under named columns. */
export interface JobTable {
	columns: { name: string; unit: Figure['unit'] }[];
	rows: { values: (Rational | null)[]; chosen: boolean }[];
}

/** A curve for the chart: relative step against frequency for one setting. */
export interface StepCurve {
	every: number;
	points: { hz: number; step: number }[];
}

/** An aim besides pulses, worked out as far as its fields can be read. */
export interface JobDerivation {
	aim: JobAim;
	timer?: TimerProfile;
	clock: ClockLink[];
	kernel: Hertz | null;
	/** Fields that make no sense, by name. */
	fields: Record<string, FieldProblem>;
	strip: StripLink[];
	figures: Figure[];
	/** The formula with its numbers: a code for the wording, and the numbers by name. */
	formulas: { code: string; numbers: Record<string, Rational> }[];
	problems: JobProblem[];
	table?: JobTable;
	curves?: StepCurve[];
	/** The rates that the aim asks for, in Hz, for the chart. */
	range?: [number, number];
}

/** What every job begins with; reads fields and remembers what cannot be read. */
export class JobBench {
	readonly derivation: JobDerivation;
	readonly core: Hertz | null;

	constructor(plan: Plan, aim: JobAim, clocks: PlanClocks) {
		const timer = plan.part.timers.find((t) => t.id === aim.timer);
		this.derivation = { aim, clock: [], kernel: null, fields: {}, strip: [], figures: [], formulas: [], problems: [] };
		this.core = plan.part.core === undefined ? null : clocks.rate(plan.part.core);
		if (!timer) {
			this.derivation.problems.push({ code: 'timer-missing', severity: 'fault', timer: aim.timer });
			return;
		}
		this.derivation.timer = timer;
		this.derivation.clock = clocks.path(timer.kernel);
		this.derivation.kernel = clocks.rate(timer.kernel);
		const unknown = this.derivation.clock.some((link) => link.unknown);
		if (!this.derivation.kernel && !unknown)
			this.derivation.problems.push({ code: 'kernel-stopped', severity: 'fault', timer: timer.name });
	}

	take<T>(name: string, field: Field<T>): T | undefined {
		if (field.ok) return field.value;
		this.derivation.fields[name] = field.problem;
		return undefined;
	}

	say(problem: JobProblem): void {
		this.derivation.problems.push(problem);
	}

	figure(name: string, value: Rational, unit: Figure['unit']): void {
		this.derivation.figures.push({ name, value, unit });
	}

	formula(code: string, numbers: Record<string, Rational>): void {
		this.derivation.formulas.push({ code, numbers });
	}
}
