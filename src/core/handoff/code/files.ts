import type { AimDerivation, LinkName, Turned } from '../../aims/index.js';
import type { Access, Quantities } from '../../registers/index.js';
import type { HandOff } from '../handOff.js';
import { rowFunctions, type RowFunctions, type RowWords } from './rows.js';
import { runtimeFunctions, type RuntimeFunction } from './runtime.js';
import { servingOf, type Serving, type ServingWords } from './serving.js';
import { statements } from './statements.js';
import { stepGroups } from '../residents.js';
import { aimNames, block, macroOf, nameOf, remark, scope, type CodeStyle } from './style.js';

/** Words of the generated text: comments are handed in. */
export interface CodeWords {
	/** The head of each file: what it is, of which plan. */
	head: (what: 'header' | 'source' | 'values') => string[];
	/** Why an access is made. */
	access: (access: Access) => string;
	/** Before the accesses of a step. */
	step: (step: string) => string;
	function: (turned: Turned, derivation: AimDerivation) => string[];
	rows: Omit<RowWords, 'change'>;
	serving: Omit<ServingWords, 'change'>;
	/** What the three functions of the whole plan do. */
	about: Record<'setUp' | 'start' | 'stop' | 'wait' | 'address', string>;
	/** A constant of an aim. */
	constant: (derivation: AimDerivation, name: LinkName, value: number) => string;
}

/** Files by name: the header, the source, and the values alone as assembler-neutral lines. */
export type CodeFiles = Map<string, string>;

/** All that the parts of the files are made from. */
interface Made {
	of: HandOff;
	style: CodeStyle;
	words: CodeWords;
	/** Names of files, and of what is called. */
	base: string;
	calls: Record<'setUp' | 'start' | 'stop', string>;
	runtime: RuntimeFunction[];
	rows: RowFunctions[];
	serving: Serving;
	values: PlannedValue[];
}

/** C99 that sets a plan up, starts and stops it, and sets anew what can change while it runs: the same text for the same plan and style. */
export function codeOf(of: HandOff, style: CodeStyle, words: CodeWords): CodeFiles {
	const rows = rowsOf(of, style, words);
	const made: Made = {
		of,
		style,
		words,
		base: nameOf({ ...style, case: 'snake' }),
		calls: { setUp: nameOf(style, 'set', 'up'), start: nameOf(style, 'start'), stop: nameOf(style, 'stop') },
		runtime: runtimeOf(of, style, words),
		rows,
		serving: servingFor(of, style, words, rows),
		values: plannedValues(of, style)
	};
	const equals = made.values.map(({ macro, value }) => `.equ ${macro}, ${value}`);
	return new Map([
		[`${made.base}.h`, text(header(made))],
		[`${made.base}.c`, text(source(made))],
		[`${made.base}_values.inc`, text([...words.head('values').map((line) => `# ${line}`), '', ...equals])]
	]);
}

/** Functions that set anew what can change while it runs. */
export function runtimeOf(of: HandOff, style: CodeStyle, words: CodeWords): RuntimeFunction[] {
	const { change, derivation } = of;
	if (!change) return [];
	const names = aimNames(derivation);
	return derivation.aims.flatMap((one) =>
		runtimeFunctions(of, one, style, { name: names.get(one.aim.id)!, comment: (turned) => words.function(turned, one), change })
	);
}

/** Tables of shapes, and the functions that write a row of one. */
export function rowsOf(of: HandOff, style: CodeStyle, words: CodeWords): RowFunctions[] {
	const { change } = of;
	return change ? rowFunctions(of, style, { ...words.rows, change }) : [];
}

/** Bodies of interrupts, and what they read. */
export function servingFor(of: HandOff, style: CodeStyle, words: CodeWords, rows: readonly RowFunctions[]): Serving {
	const { change } = of;
	if (!change) return { prototypes: [], groups: [], bodies: [], readings: [], left: [] };
	return servingOf(of, style, { ...words.serving, change }, rows);
}

/** A value of an aim's strip under the name that it has in code. */
interface PlannedValue {
	macro: string;
	value: number;
	of: AimDerivation;
	link: LinkName;
}

function plannedValues({ derivation }: HandOff, style: CodeStyle): PlannedValue[] {
	const names = aimNames(derivation);
	return derivation.aims.flatMap((of) =>
		of.strip.flatMap(({ name: link, value }) =>
			Number.isInteger(value) && value >= 0 ? [{ macro: macroOf(style, names.get(of.aim.id)!, link), value, of, link }] : []
		)
	);
}

const text = (lines: readonly string[]) => `${lines.join('\n')}\n`;

const comment = (lines: readonly string[]) => ['/*', ...lines.map((line) => ` * ${remark(line)}`.trimEnd()), ' */'];

function header({ style, words, calls, runtime, rows, serving, values }: Made): string[] {
	const guard = macroOf(style, 'H');
	const constants = values.map(({ macro, value, of, link }) => {
		return `#define ${macro} ${value}${value > 0xffff ? 'UL' : 'U'} /* ${remark(words.constant(of, link, value))} */`;
	});
	return [
		...comment(words.head('header')),
		`#ifndef ${guard}`,
		`#define ${guard}`,
		'',
		'#include <stdint.h>',
		'',
		'#ifdef __cplusplus',
		'extern "C" {',
		'#endif',
		'',
		...constants,
		'',
		...(['setUp', 'start', 'stop'] as const).flatMap((call) => [`/* ${words.about[call]} */`, `int ${calls[call]}(void);`]),
		...runtime.map(({ prototype }) => `${prototype};`),
		...rows.flatMap(({ row, next }) => [`${row.prototype};`, `${next.prototype};`]),
		...serving.prototypes,
		...serving.left.map((aim) => `/* ${remark(words.serving.left(aim))} */`),
		'',
		'#ifdef __cplusplus',
		'}',
		'#endif',
		'',
		`#endif /* ${guard} */`
	];
}

function source(made: Made): string[] {
	const { of, style, words, base, calls, runtime, rows, serving } = made;
	const bodies = [
		...(
			[
				['setUp', of.accesses.slice(0, of.begins)],
				['start', of.accesses.slice(of.begins)],
				['stop', stopping(of)]
			] as const
		).map(([call, accesses]) => block(style, `int ${calls[call]}(void)`, [...stepped(accesses, style, words), 'return 0;'])),
		...runtime.map(({ lines }) => lines),
		...rows.flatMap(({ groups }) => groups),
		...serving.groups
	];
	const used = bodies.flat().join('\n');
	const widths = (name: string) => [8, 16, 32].filter((bits) => used.includes(`${name}${bits}(`));
	return [
		...comment(words.head('source')),
		`#include "${base}.h"`,
		'',
		`/* ${words.about.address} */`,
		'#ifndef NV_ADDR',
		'#define NV_ADDR(a) (a)',
		'#endif',
		...widths('NV_R').map((bits) => `#define NV_R${bits}(a) (*(volatile uint${bits}_t *)(uintptr_t)NV_ADDR(a))`),
		'',
		...widths('nv_wait').flatMap((bits) => [...waiting(bits, style, words), '']),
		...bodies.flatMap((lines, i) => (i === 0 ? lines : ['', ...lines]))
	];
}

/** What stops every timer that was set up. */
function stopping(of: HandOff): Access[] {
	const { binding, quantities, change } = of;
	if (!binding || !change) return [];
	const off: Quantities = new Map(
		[...quantities.keys()].flatMap((unit) => (binding.units.get(unit)?.values.has('run') ? [[unit, new Map([['run', 0]])]] : []))
	);
	return change(off).accesses;
}

/** Statements with a line before each step. */
function stepped(accesses: readonly Access[], style: CodeStyle, words: CodeWords): string[] {
	return stepGroups(accesses).flatMap(({ unit, step, accesses: own }) => {
		const lines = statements(own, style, words.access, 'return -1;');
		const declares = lines.some((line) => line.startsWith('const '));
		return [`/* ${unit}: ${remark(words.step(step))} */`, ...(declares ? scope(style, lines) : lines)];
	});
}

/** A wait that counts down and gives up. */
function waiting(bits: number, style: CodeStyle, words: CodeWords): string[] {
	return [
		`/* ${words.about.wait} */`,
		...block(style, `static int nv_wait${bits}(const volatile uint${bits}_t *place, uint${bits}_t mask, uint${bits}_t value)`, [
			'uint32_t left = 100000UL;',
			...block(style, 'while ((*place & mask) != value)', [...block(style, 'if (left == 0UL)', ['return -1;']), 'left--;']),
			'return 0;'
		])
	];
}
