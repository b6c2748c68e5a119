import { turnedOf, type AimDerivation, type Turned } from '../../aims/index.js';
import { Rational } from '../../exact/index.js';
import type { Change } from '../../registers/index.js';
import type { HandOff } from '../handOff.js';
import { statements } from './statements.js';
import { block, nameOf, remark, scope, type CodeStyle } from './style.js';
import { codeTemplate } from './template.js';

/** A run-time function: a register from a wish, in integers, rounded as the plan rounds. */
export interface RuntimeFunction {
	name: string;
	prototype: string;
	/** What the argument counts: parts of a hertz, a second, or one. */
	parts: bigint;
	/** Whose register it writes. */
	unit: string;
	quantity: string;
	/** Wishes for which it holds, both included, in that unit. */
	least: bigint;
	most: bigint;
	turned: Turned;
	lines: string[];
}

/** What an integer argument counts: parts of the base unit. */
const UNITS: Record<Turned['of'], { argument: string; parts: bigint; called: string }> = {
	rate: { argument: 'millihertz', parts: 1000n, called: 'frequency' },
	duty: { argument: 'ppm', parts: 1_000_000n, called: 'duty' },
	delay: { argument: 'nanoseconds', parts: 1_000_000_000n, called: 'delay' },
	width: { argument: 'nanoseconds', parts: 1_000_000_000n, called: 'width' },
	interval: { argument: 'nanoseconds', parts: 1_000_000_000n, called: 'interval' }
};

const [MOST_32, MOST_64] = [2n ** 32n - 1n, 2n ** 64n - 1n];

/** How functions of an aim are called and commented, and what a change of the set-up takes. */
export interface Said {
	name: string;
	comment: (turned: Turned) => string[];
	change: Change;
}

/** The functions of one aim, for whatever of it can be set anew while it runs. */
export function runtimeFunctions(of: HandOff, derivation: AimDerivation, style: CodeStyle, said: Said): RuntimeFunction[] {
	return turnedOf(derivation).flatMap((turned) => functionOf(of, derivation, turned, style, said) ?? []);
}

function functionOf(
	{ binding }: HandOff,
	derivation: AimDerivation,
	turned: Turned,
	style: CodeStyle,
	said: Said
): RuntimeFunction | undefined {
	const { aim } = derivation;
	const unit = aim.timer;
	const quantity = quantityOf(derivation, turned);
	const value = quantity === undefined ? undefined : binding?.units.get(unit)?.values.get(quantity);
	if (!binding || quantity === undefined || !value) return undefined;
	const plus =
		value.as.kind === 'plain' ? 0n : value.as.kind === 'formula' && value.as.factor.equals(Rational.one) ? value.as.plus : undefined;
	const template = plus === undefined ? undefined : codeTemplate(binding, unit, quantity, said.change);
	if (plus === undefined || !template) return undefined;
	const { argument, parts, called } = UNITS[turned.of];
	const least = ceil(turned.low.mul(Rational.of(parts, 1n)));
	const most = min(turned.high.mul(Rational.of(parts, 1n)).floor(), MOST_32);
	const steps = stepsOf(turned, parts, most, style);
	if (!steps || least > most) return undefined;
	const name = nameOf(style, said.name, 'set', called);
	const prototype = `int ${name}(uint32_t ${argument})`;
	const offset = BigInt(turned.offset) + plus;
	const outside = [...(least > 0n ? [`${argument} < ${least}UL`] : []), ...(most < MOST_32 ? [`${argument} > ${most}UL`] : [])];
	// What 32 bits cannot name is out of range.
	const told = { ...turned, high: Rational.of(most, parts) };
	const body = [
		...said.comment(most < MOST_32 ? turned : told).map((line) => `/* ${remark(line)} */`),
		...(outside.length > 0 ? block(style, `if (${outside.join(' || ')})`, ['return -1;']) : []),
		...steps(argument),
		...block(style, `if (${turned.least > 0 ? `steps < ${turned.least}ULL || ` : ''}steps > ${turned.most}ULL)`, ['return -1;']),
		...scope(style, [`const uint32_t code = ${codeText(turned.slope, offset)};`, ...statements(template, style, () => '', 'return -2;')]),
		'return 0;'
	];
	return { name, prototype, parts, unit, quantity, least, most, turned, lines: block(style, prototype, body) };
}

/** The quantity that a link's register is. */
function quantityOf({ aim, timer }: AimDerivation, { register }: Turned): string | undefined {
	const channel = (aim as { channel?: string }).channel;
	if (register === 'compare')
		return channel === undefined || !timer?.channels.some(({ id }) => id === channel) ? undefined : `compare:${channel}`;
	return ['reload', 'preload', 'repeat'].includes(register) ? register : undefined;
}

function codeText(slope: 1 | -1, offset: bigint): string {
	if (slope < 0) return `(uint32_t)(${offset}ULL - steps)`;
	if (offset === 0n) return '(uint32_t)steps';
	return offset > 0n ? `(uint32_t)(steps + ${offset}ULL)` : `(uint32_t)(steps - ${-offset}ULL)`;
}

/** Lines that work `steps` out of the argument; undefined where 64 bits are not enough. */
function stepsOf(
	{ kind, factor, most: reach }: Turned,
	parts: bigint,
	most: bigint,
	style: CodeStyle
): ((argument: string) => string[]) | undefined {
	if (kind === 'times') {
		const each = factor.div(Rational.of(parts, 1n));
		const [n, d] = [each.num, each.den];
		if (2n * n * most + d > MOST_64) return undefined;
		return (argument) => [`const uint64_t steps = (${2n * n}ULL * (uint64_t)${argument} + ${d}ULL) / ${2n * d}ULL;`];
	}
	const whole = factor.mul(Rational.of(parts, 1n));
	const [n, d] = [whole.num, whole.den];
	if (2n * n + d * most > MOST_64 || (2n * BigInt(reach) + 3n) * d * most > MOST_64 * 4n) return undefined;
	return (argument) => [
		`const uint64_t by = ${d}ULL * (uint64_t)${argument};`,
		`uint64_t steps = ${n}ULL / by;`,
		`/* Of the two neighbours the one whose rate is nearer; as near, the longer period. */`,
		`const uint64_t left = ${n}ULL % by;`,
		...block(style, 'if (left * (2ULL * steps + 1ULL) >= steps * by)', ['steps++;'])
	];
}

const min = (a: bigint, b: bigint) => (a < b ? a : b);

const ceil = (value: Rational): bigint => -value.neg().floor();
