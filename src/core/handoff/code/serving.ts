import { figureOf, kindOf, type Aim, type AimDerivation, type Software } from '../../aims/index.js';
import { Rational } from '../../exact/index.js';
import type { Binding, Change } from '../../registers/index.js';
import type { HandOff } from '../handOff.js';
import { askedBy } from '../quantities.js';
import { readerOf } from './reader.js';
import type { RowFunctions } from './rows.js';
import { statements } from './statements.js';
import { aimNames, block, nameOf, remark, scope, tableLines, type CodeStyle } from './style.js';
import { codeTemplate } from './template.js';

/**
 * What software does while it runs: the body of each interrupt that is asked for (flags cleared, captures taken, wraps and ticks counted,
 * rows written), and the functions that tell what came of it, in integers.
 */
export interface Serving {
	prototypes: string[];
	/** Variables, then functions, each a group of lines. */
	groups: string[][];
	bodies: InterruptBody[];
	readings: Reading[];
	/** Aims that listen, but of which nothing can be read by code alone. */
	left: Aim[];
}

/** The body of one interrupt of a timer. */
export interface InterruptBody {
	name: string;
	unit: string;
	events: string[];
	/** It is told the level of the input. */
	level: boolean;
}

/** A function that tells what was read. */
export interface Reading {
	name: string;
	aim: string;
	of: 'rate' | 'width' | 'position' | 'ticks' | 'levels';
}

/** What is said of them. */
export interface ServingWords {
	body: (events: readonly string[], level: boolean) => string;
	reading: (of: Reading['of'], derivation: AimDerivation) => string[];
	left: (aim: Aim) => string;
	change: Change;
}

/** One of them in the making. */
interface Part {
	/** Variables and functions of its own. */
	groups: string[][];
	prototypes: string[];
	reading?: Reading;
	/** What is done when an event of its timer comes. */
	on: { event: string; lines: string[]; level?: boolean }[];
}

interface Made {
	of: HandOff;
	binding: Binding;
	style: CodeStyle;
	words: ServingWords;
	/** Numbers that a timer counts through before it begins again; undefined: it does not count up alone. */
	modulus: (unit: string) => number | undefined;
	/** The event of a unit's wraps. */
	wrap: (unit: string) => string | undefined;
}

const ALL = 2 ** 32;

export function servingOf(of: HandOff, style: CodeStyle, words: ServingWords, rows: readonly RowFunctions[]): Serving {
	const { binding, derivation, quantities } = of;
	const none: Serving = { prototypes: [], groups: [], bodies: [], readings: [], left: [] };
	if (!binding) return none;
	const asked = (unit: string) => [...(quantities.get(unit)?.keys() ?? [])].flatMap((name) => name.match(/^interrupt:(.*)/)?.[1] ?? []);
	const made: Made = {
		of,
		binding,
		style,
		words,
		modulus: (unit) => modulusOf(of, unit),
		wrap: (unit) => asked(unit).find((event) => event === 'update' || event === 'overflow')
	};
	const names = aimNames(derivation);
	const parts: { unit: string; part: Part }[] = [];
	const left: Aim[] = [];
	for (const one of derivation.aims) {
		if (one.use === undefined) continue;
		const part = partOf(made, one, names.get(one.aim.id)!);
		if (part === 'none') continue;
		if (part) parts.push({ unit: one.aim.timer, part });
		else left.push(one.aim as Aim);
	}
	for (const { unit, next } of rows) {
		const wrap = made.wrap(unit);
		if (wrap !== undefined)
			parts.push({ unit, part: { groups: [], prototypes: [], on: [{ event: wrap, lines: [`(void)${next.name}();`] }] } });
	}
	const bodies = derivation.plan.part.timers.flatMap((timer) =>
		(timer.interrupts ?? []).flatMap(({ on }) => {
			const own = on.filter((event) => asked(timer.id).includes(event));
			return own.length === 0 ? [] : [bodyOf(made, timer.id, own, parts)];
		})
	);
	return {
		prototypes: [...bodies.flatMap(({ prototypes }) => prototypes), ...parts.flatMap(({ part }) => part.prototypes)],
		groups: [...parts.flatMap(({ part }) => part.groups), ...bodies.map(({ lines }) => lines)],
		bodies: bodies.map(({ body }) => body),
		readings: parts.flatMap(({ part }) => part.reading ?? []),
		left
	};
}

function modulusOf({ quantities, derivation }: HandOff, unit: string): number | undefined {
	const own = quantities.get(unit);
	const timer = derivation.plan.part.timers.find(({ id }) => id === unit);
	if (!timer) return undefined;
	const mode = own?.get('mode') ?? (timer.modes.length === 1 ? timer.modes[0] : 'free');
	// Where software moves a compare on, the counter itself runs freely.
	const free = mode === 'free' || mode === 'advance';
	if (!free && mode !== 'up') return undefined;
	const reload = own?.get('reload');
	return free || typeof reload !== 'number' ? 2 ** timer.width : reload + 1;
}

/** The body of one interrupt. */
function bodyOf({ binding, style, words }: Made, unit: string, events: readonly string[], parts: readonly { unit: string; part: Part }[]) {
	const acts = events.map((event) =>
		parts.flatMap(({ unit: whose, part }) => (whose === unit ? part.on.filter((one) => one.event === event) : []))
	);
	const level = acts.some((own) => own.some((one) => one.level));
	const lines = events.flatMap((event, k) => {
		const flag = readerOf(binding, unit, `flag:${event}`, 'raised');
		const cleared = words
			.change(new Map([[unit, new Map([[`flag:${event}`, 1]])]]))
			.accesses.filter((one) => one.do !== 'read' || !flag?.clears);
		const doing = [...(flag ? statements(cleared, style, () => '', 'return -2;') : []), ...acts[k].flatMap((one) => one.lines)];
		return flag
			? scope(style, [...flag.lines, ...block(style, `if (${flag.expression} != 0UL)`, doing)])
			: doing.length === 0
				? []
				: scope(style, doing);
	});
	const name = nameOf(style, unit, 'on', ...events);
	const prototype = `int ${name}(${level ? 'uint32_t level' : 'void'})`;
	const body: InterruptBody = { name, unit, events: [...events], level };
	return {
		body,
		prototypes: [`${prototype};`],
		lines: block(style, prototype, [`/* ${remark(words.body(events, level))} */`, ...lines, 'return 0;'])
	};
}

/** What an aim's software does; 'none': nothing; undefined: something that cannot be written. */
function partOf(made: Made, derivation: AimDerivation, called: string): Part | 'none' | undefined {
	const software = kindOf(derivation.aim).software?.(derivation.aim);
	switch (software?.does) {
		case undefined:
			return 'none';
		case 'spans':
			return spanPart(made, derivation, software, called);
		case 'gates':
			return gatedPart(made, derivation, called);
		case 'places':
			return positionPart(made, derivation, software.held, called);
		case 'ticks':
			return tickPart(made, derivation, called);
		case 'levels':
			return dividedPart(made, derivation, called);
		case 'words':
			return patternPart(made, derivation, called);
		case 'hangs':
			return undefined;
	}
}

/** Reads a variable that an interrupt may change in the middle: until it is twice the same. */
const steady = (style: CodeStyle, type: string, from: string, to: string) => [
	`${type} ${to};`,
	...block(style, 'do', [`${to} = ${from};`]).map((line, i, all) => (i === all.length - 1 ? `${line} while (${to} != ${from});` : line))
];

type Spans = Extract<Software, { does: 'spans' }>;

/** Ticks from one captured edge to another, and the rate or the width that they are. */
function spanPart(made: Made, derivation: AimDerivation, { channel, laps: counted, level }: Spans, called: string): Part | undefined {
	const { binding, style, words, of } = made;
	const unit = derivation.aim.timer;
	const captured = readerOf(binding, unit, `compare:${channel}`, 'captured');
	const modulus = made.modulus(unit);
	const event = `capture:${channel}`;
	const own = of.quantities.get(unit);
	const tick = figureOf(derivation, 'tick');
	if (!captured || captured.clears || modulus === undefined || !tick || !own?.has(`interrupt:${event}`)) return undefined;
	const local = (what: string) => nameOf(style, called, what);
	const [span, last, seen] = [local('span'), local('last'), local('seen')];
	const wide = counted && modulus > 2 ** 24;
	const type = wide ? 'uint64_t' : 'uint32_t';
	const groups = [[`static volatile ${type} ${span};`, `static ${type} ${last};`, `static uint8_t ${seen};`]];
	const on: Part['on'] = [];
	let moment: string[];
	if (counted) {
		const wrap = made.wrap(unit);
		const count = readerOf(binding, unit, 'count', 'count');
		const pending = wrap === undefined ? undefined : readerOf(binding, unit, `flag:${wrap}`, 'wrapped');
		if (wrap === undefined || !count || !pending || pending.clears) return undefined;
		const laps = local('laps');
		groups[0].push(`static volatile uint32_t ${laps};`);
		on.push({ event: wrap, lines: [`${laps}++;`] });
		moment = [
			`uint32_t lap = ${laps};`,
			...count.lines,
			...pending.lines,
			`const uint32_t now = ${count.expression};`,
			...block(style, `if (${pending.expression} != 0UL && now < ${Math.floor(modulus / 2)}UL)`, ['lap++;']),
			...block(style, `if (${captured.expression} > now)`, ['lap--;']),
			`const ${type} moment = (${type})((${type})lap * ${modulus}${wide || modulus > 0xffff_ffff ? 'ULL' : 'UL'} + ${captured.expression});`,
			`const ${type} taken = moment - ${last};`
		];
	} else {
		moment = [`const uint32_t moment = ${captured.expression};`, `const uint32_t taken = ${differenceText(last, 'moment', modulus)};`];
	}
	const taken = block(style, `if (${seen} != 0U)`, [`${span} = taken;`]);
	if (level === undefined) {
		on.push({ event, lines: scope(style, [...captured.lines, ...moment, ...taken, `${last} = moment;`, `${seen} = 1U;`]) });
	} else {
		const both = own.get(`edge:${channel}`) === 'both';
		const begins = level === 'high';
		const turn = (edge: 'rise' | 'fall') =>
			statements(words.change(new Map([[unit, new Map([[`edge:${channel}`, edge]])]])).accesses, style, () => '', 'return -2;');
		const [first, second] = begins ? (['rise', 'fall'] as const) : (['fall', 'rise'] as const);
		const opening = both ? `level ${begins ? '!=' : '=='} 0UL` : `${seen} == 0U`;
		// The last value of the edge that began is compared with the one that ends it.
		const open = block(style, `if (${opening})`, [`${last} = moment;`, `${seen} = 1U;`, ...(both ? [] : turn(second))]);
		const close = block(style, 'else', [...taken, `${seen} = 0U;`, ...(both ? [] : turn(first))]);
		on.push({ event, lines: scope(style, [...captured.lines, ...moment, ...open, ...close]), level: both });
	}
	const read =
		level === undefined ? rateReading(made, derivation, channel, called, span, type) : widthReading(made, derivation, called, span, type);
	return read && { groups: [...groups, read.lines], prototypes: [`${read.prototype};`], reading: read.reading, on };
}

/** From one count to a later one, less than a lap away. */
function differenceText(from: string, to: string, modulus: number): string {
	if (modulus === ALL) return `${to} - ${from}`;
	if (Number.isInteger(Math.log2(modulus))) return `(uint32_t)((${to} - ${from}) & 0x${(modulus - 1).toString(16).toUpperCase()}UL)`;
	return `(uint32_t)((${to} >= ${from}) ? ${to} - ${from} : ${to} + (${modulus}UL - ${from}))`;
}

const LIMIT = 2n ** 64n;

interface ReadingMade {
	lines: string[];
	prototype: string;
	reading: Reading;
}

/** every / (ticks x tick), rounded half up to a thousandth of a hertz. */
function rateReading(
	{ style, words, of }: Made,
	derivation: AimDerivation,
	channel: string,
	called: string,
	span: string,
	type: string
): ReadingMade | undefined {
	const { aim } = derivation;
	const every = Number(
		of.quantities.get(aim.timer)?.get(`every:${channel}`) ?? derivation.strip.find(({ name }) => name === 'every')?.value ?? 1
	);
	const { num, den } = Rational.int(1000 * every).div(figureOf(derivation, 'tick')!);
	const most = 2n ** 32n;
	if (2n * num + den * most >= LIMIT || 2n * den * most >= LIMIT) return undefined;
	const name = nameOf(style, called, 'read', 'rate');
	const prototype = `int ${name}(uint32_t *millihertz)`;
	const lines = block(style, prototype, [
		...words.reading('rate', derivation).map((line) => `/* ${remark(line)} */`),
		...steady(style, type, span, 'ticks'),
		...block(style, `if (ticks == 0U${type === 'uint64_t' ? ' || ticks > 0xFFFFFFFFULL' : ''})`, ['return -1;']),
		`const uint64_t rate = (${2n * num}ULL + ${den}ULL * ticks) / (${2n * den}ULL * ticks);`,
		...block(style, 'if (rate > 0xFFFFFFFFULL)', ['return -1;']),
		'*millihertz = (uint32_t)rate;',
		'return 0;'
	]);
	return { lines, prototype, reading: { name, aim: aim.id, of: 'rate' } };
}

/** ticks x tick in nanoseconds, rounded half up; 1 outside the window that is accepted. */
function widthReading(
	{ style, words }: Made,
	derivation: AimDerivation,
	called: string,
	span: string,
	type: string
): ReadingMade | undefined {
	const { num, den } = figureOf(derivation, 'tick')!.mul(Rational.int(1_000_000_000));
	const most = 2n ** 32n;
	if (2n * num * most + den >= LIMIT) return undefined;
	const [from, to] = [figureOf(derivation, 'accept-from'), figureOf(derivation, 'accept-to')];
	const name = nameOf(style, called, 'read', 'width');
	const prototype = `int ${name}(uint32_t *nanoseconds)`;
	const below = from && from.num > 0n ? `ticks < ${from.num}UL || ` : '';
	const window = from && to ? `return (${below}ticks > ${to.num}UL) ? 1 : 0;` : 'return 0;';
	const lines = block(style, prototype, [
		...words.reading('width', derivation).map((line) => `/* ${remark(line)} */`),
		...steady(style, type, span, 'ticks'),
		...block(style, `if (ticks == 0U${type === 'uint64_t' ? ' || ticks > 0xFFFFFFFFULL' : ''})`, ['return -1;']),
		`const uint64_t width = (${2n * num}ULL * ticks + ${den}ULL) / ${2n * den}ULL;`,
		...block(style, 'if (width > 0xFFFFFFFFULL)', ['return -1;']),
		'*nanoseconds = (uint32_t)width;',
		window
	]);
	return { lines, prototype, reading: { name, aim: derivation.aim.id, of: 'width' } };
}

/** Edges that came within a gate time: called once each, it tells the rate of the last one. */
function gatedPart({ binding, style, words, modulus }: Made, derivation: AimDerivation, called: string): Part | undefined {
	const { aim } = derivation;
	const count = readerOf(binding, aim.timer, 'count', 'count');
	const round = modulus(aim.timer);
	const gate = figureOf(derivation, 'gate');
	if (!count || round === undefined || !gate) return undefined;
	const { num, den } = Rational.int(1000).div(gate);
	if (2n * num * 2n ** 32n + den >= LIMIT) return undefined;
	const [last, name] = [nameOf(style, called, 'last'), nameOf(style, called, 'read', 'rate')];
	const prototype = `int ${name}(uint32_t *millihertz)`;
	const lines = block(style, prototype, [
		...words.reading('rate', derivation).map((line) => `/* ${remark(line)} */`),
		...count.lines,
		`const uint32_t now = ${count.expression};`,
		`const uint32_t edges = ${differenceText(last, 'now', round)};`,
		`const uint64_t rate = (${2n * num}ULL * (uint64_t)edges + ${den}ULL) / ${2n * den}ULL;`,
		`${last} = now;`,
		...block(style, 'if (rate > 0xFFFFFFFFULL)', ['return -1;']),
		'*millihertz = (uint32_t)rate;',
		'return 0;'
	]);
	return {
		groups: [[`static uint32_t ${last};`], lines],
		prototypes: [`${prototype};`],
		reading: { name, aim: aim.id, of: 'rate' },
		on: []
	};
}

/** Where an encoder stands: its count, or one that stays at the ends of its range. */
function positionPart(made: Made, derivation: AimDerivation, held: boolean, called: string): Part | undefined {
	const { binding, style, words, of } = made;
	const { aim } = derivation;
	const count = readerOf(binding, aim.timer, 'count', 'count');
	const reload = of.quantities.get(aim.timer)?.get('reload');
	if (!count || typeof reload !== 'number' || reload >= 2 ** 31) return undefined;
	const name = nameOf(style, called, 'position');
	const prototype = `uint32_t ${name}(void)`;
	const said = words.reading('position', derivation).map((line) => `/* ${remark(line)} */`);
	const reading: Reading = { name, aim: aim.id, of: 'position' };
	if (!held) {
		const lines = block(style, prototype, [...said, ...count.lines, `return ${count.expression};`]);
		return { groups: [lines], prototypes: [`${prototype};`], reading, on: [] };
	}
	const [last, place] = [nameOf(style, called, 'last'), nameOf(style, called, 'place')];
	const start = figureOf(derivation, 'start')?.num ?? 0n;
	const lines = block(style, prototype, [
		...said,
		...count.lines,
		`const uint32_t now = ${count.expression};`,
		`const uint32_t up = ${differenceText(last, 'now', reload + 1)};`,
		`const uint32_t down = ${differenceText('now', last, reload + 1)};`,
		`${last} = now;`,
		...block(style, 'if (up <= down)', [`${place} = (up > ${reload}UL - ${place}) ? (uint32_t)${reload}UL : ${place} + up;`]),
		...block(style, 'else', [`${place} = (down > ${place}) ? (uint32_t)0UL : ${place} - down;`]),
		`return ${place};`
	]);
	const wrap = made.wrap(aim.timer);
	return {
		groups: [[`static uint32_t ${last} = ${start}UL;`, `static uint32_t ${place} = ${start}UL;`], lines],
		prototypes: [`${prototype};`],
		reading,
		on: wrap === undefined ? [] : [{ event: wrap, lines: [`(void)${name}();`] }]
	};
}

/** The event that an aim is served by. */
function servedBy(derivation: AimDerivation): string | undefined {
	const asked = derivation.timer ? askedBy(derivation, derivation.timer) : [];
	return asked.find((one) => one.startsWith('interrupt:'))?.slice('interrupt:'.length);
}

/** Tells what an interrupt counts in a variable. */
function told({ style, words }: Made, derivation: AimDerivation, called: string, of: 'ticks' | 'levels', variable: string) {
	const name = nameOf(style, called, of);
	const prototype = `uint32_t ${name}(void)`;
	const lines = block(style, prototype, [
		...words.reading(of, derivation).map((line) => `/* ${remark(line)} */`),
		...steady(style, 'uint32_t', variable, 'now'),
		'return now;'
	]);
	const reading: Reading = { name, aim: derivation.aim.id, of };
	return { lines, prototypes: [`${prototype};`], reading };
}

/** Ticks that came since the start. */
function tickPart(made: Made, derivation: AimDerivation, called: string): Part | undefined {
	const event = servedBy(derivation);
	if (event === undefined) return undefined;
	const ticks = nameOf(made.style, called, 'count');
	const { lines, ...tells } = told(made, derivation, called, 'ticks', ticks);
	return { groups: [[`static volatile uint32_t ${ticks};`], lines], ...tells, on: [{ event, lines: [`${ticks}++;`] }] };
}

/** Outputs that are counted out of ticks: which of them are high, a bit each. The compare that ticks is moved on. */
function dividedPart(made: Made, derivation: AimDerivation, called: string): Part | undefined {
	const { binding, style, words, of, modulus } = made;
	const { aim, run, strip } = derivation;
	const frame = strip.find(({ name }) => name === 'factors')?.value;
	const event = servedBy(derivation);
	if (event === undefined || frame === undefined || !run.counted || !run.interval || run.counted.length > 32) return undefined;
	const [at, levels] = [nameOf(style, called, 'at'), nameOf(style, called, 'high')];
	const moved: string[] = [];
	const first = run.counted.reduce((sum, { ticks }, k) => sum + (ticks > 0 ? 2 ** k : 0), 0);
	const groups = [[`static uint32_t ${at};`, `static volatile uint32_t ${levels} = ${first}UL;`]];
	if (event.startsWith('match:')) {
		const channel = event.slice('match:'.length);
		const template = codeTemplate(binding, aim.timer, `compare:${channel}`, words.change);
		const round = modulus(aim.timer);
		if (!template || round === undefined) return undefined;
		const due = nameOf(style, called, 'due');
		groups[0].push(`static uint32_t ${due} = ${Number(of.quantities.get(aim.timer)?.get(`compare:${channel}`) ?? 0)}UL;`);
		const by = run.interval.value;
		moved.push(
			round === ALL ? `${due} = (uint32_t)(${due} + ${by}UL);` : `${due} = (uint32_t)((${due} + ${by}UL) % ${round}UL);`,
			...scope(style, [`const uint32_t code = ${due};`, ...statements(template, style, () => '', 'return -2;')])
		);
	}
	const bits = run.counted.flatMap(({ ticks }, k) =>
		ticks > 0 ? [`((${at} < ${ticks}UL) ? 0x${(2 ** k).toString(16).toUpperCase()}UL : 0UL)`] : []
	);
	const { lines, ...tells } = told(made, derivation, called, 'levels', levels);
	return {
		groups: [...groups, lines],
		...tells,
		on: [
			{
				event,
				lines: [...moved, `${at} = (uint32_t)((${at} + 1UL) % ${frame}UL);`, `${levels} = (uint32_t)(${bits.join(' | ') || '0UL'});`]
			}
		]
	};
}

/** The words of a pattern, for what carries them to the port: bits that are set and bits that are cleared. */
function patternPart({ style }: Made, { words }: AimDerivation, called: string): Part | 'none' {
	if (!words || words.length === 0) return 'none';
	const type = `const uint32_t ${nameOf(style, called, 'words')}[${words.length}][2]`;
	const cells = words.map(({ set, clear }) => `{0x${set.toString(16).toUpperCase()}UL, 0x${clear.toString(16).toUpperCase()}UL}`);
	return { groups: [[`${type} =`, ...tableLines(style, cells)]], prototypes: [`extern ${type};`], on: [] };
}
