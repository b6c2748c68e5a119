import { Rational, type Hertz } from '../../exact/index.js';
import { prescaleCode } from '../../part/index.js';
import { ratioTable } from '../../solve/index.js';
import type { AimContext } from './context.js';
import type { AimDerivation, AimProblem, AimTrouble, LinkName, Unit, Wish } from './derivation.js';
import { readCycles, readRate, readWhole, type Field } from './fields.js';
import type { AnyAim } from './schema.js';

/** The derivation of an aim while it is worked out: reads fields and remembers what cannot be read. */
export class DerivationDraft<A extends AnyAim = AnyAim> {
	readonly derivation: AimDerivation<A>;
	readonly core: Hertz | null;

	constructor(
		aim: A,
		readonly context: AimContext
	) {
		const { part, clocks } = context;
		const timer = part.timers.find((one) => one.id === aim.timer);
		this.derivation = { aim, clock: [], kernel: null, fields: {}, strip: [], figures: [], formulas: [], problems: [], run: {} };
		this.core = part.core === undefined ? null : clocks.rate(part.core);
		if (!timer) {
			this.fault({ code: 'timer-missing', timer: aim.timer });
			return;
		}
		this.derivation.timer = timer;
		this.derivation.clock = clocks.path(timer.kernel);
		this.derivation.kernel = clocks.rate(timer.kernel);
		const unknown = this.derivation.clock.some((link) => link.unknown);
		if (!this.derivation.kernel && !unknown) this.fault({ code: 'kernel-stopped', timer: timer.name });
	}

	take<T>(name: string, field: Field<T>): T | undefined {
		if (field.ok) return field.value;
		this.derivation.fields[name] = field.problem;
		return undefined;
	}

	/** A rate or a period; one in ticks is of the held prescale, or of the smallest. */
	rate(name: string, text: string): Hertz | undefined {
		const { timer, kernel, aim } = this.derivation;
		const held = Object.hasOwn(aim.locks, 'prescale') ? readWhole(aim.locks.prescale ?? '', 1) : undefined;
		const prescale = held?.ok ? held.value : timer && ratioTable(timer.prescaler).ratios[0];
		return this.take(name, readRate(text, kernel && prescale !== undefined ? kernel.div(Rational.int(prescale)) : undefined));
	}

	/** What a link is held at: undefined when it is not held, null when the held value cannot be. `width`: of its register, for what hardware would keep. */
	held(link: LinkName, least: 0 | 1, limit: number, width?: number): number | undefined | null {
		const { locks } = this.derivation.aim;
		if (!Object.hasOwn(locks, link)) return undefined;
		const value = this.take(`lock-${link}`, readWhole(locks[link] ?? '', least));
		if (value === undefined) return null;
		if (value <= limit) return value;
		const fits = width !== undefined && value < 2 ** width;
		const kept = width === undefined ? {} : fits ? { unmet: true } : { kept: value % 2 ** width };
		this.say({ code: 'lock-refused', severity: 'fault', link, value, limit, ...kept });
		return null;
	}

	/** The held prescale, as held() has it; the prescaler must offer it. */
	heldPrescale(): number | undefined | null {
		const { prescaler } = this.derivation.timer!;
		const value = this.held('prescale', 1, 2 ** 33);
		if (typeof value !== 'number' || prescaleCode(prescaler, value) !== undefined) return value;
		this.say({ code: 'lock-refused', severity: 'fault', link: 'prescale', value, limit: ratioTable(prescaler).ratios.at(-1)! });
		return null;
	}

	/** Core cycles, as a count or as a time, which is rounded up to whole cycles. */
	cycles(name: string, text: string): number | undefined {
		return this.take(name, readCycles(text, this.core));
	}

	say(problem: AimProblem): void {
		this.derivation.problems.push(problem);
	}

	fault(trouble: AimTrouble): void {
		this.say({ ...trouble, severity: 'fault' });
	}

	warn(trouble: AimTrouble): void {
		this.say({ ...trouble, severity: 'warning' });
	}

	figure(name: string, value: Rational, unit: Unit, minor = false): void {
		this.derivation.figures.push({ name, value, unit, ...(minor && { minor }) });
	}

	wish(name: string, wish: Wish): void {
		(this.derivation.wishes ??= {})[name] = wish;
	}

	formula(code: string, numbers: Record<string, Rational>): void {
		this.derivation.formulas.push({ code, numbers });
	}

	/** Software's time for so many core cycles; zero where the part has no core clock. */
	time(cycles: number): Rational {
		return this.core ? Rational.int(cycles).div(this.core) : Rational.zero;
	}
}
