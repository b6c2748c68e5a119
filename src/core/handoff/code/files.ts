import type { AimDerivation, Turned } from '../../aims/index.js';
import { change, changesAfter, type Access, type Quantities } from '../../registers/index.js';
import type { HandOff } from '../handOff.js';
import { runtimeFunctions, type RuntimeFunction } from './runtime.js';
import { statements } from './statements.js';
import { aimNames, block, macroOf, nameOf, remark, type CodeStyle } from './style.js';

/** Words of the generated text: comments are handed in. */
export interface CodeWords {
	/** The head of each file: what it is, of which plan. */
	head: (what: 'header' | 'source' | 'values') => string[];
	/** Why an access is made. */
	access: (access: Access) => string;
	/** Before the accesses of a step. */
	step: (step: string) => string;
	function: (turned: Turned, derivation: AimDerivation) => string[];
	/** What the three functions of the whole plan do. */
	about: Record<'setUp' | 'start' | 'stop' | 'wait' | 'address', string>;
	/** A constant of an aim. */
	constant: (derivation: AimDerivation, name: string, value: number) => string;
}

/** Files by name: the header, the source, and the values alone as assembler-neutral lines. */
export type CodeFiles = Map<string, string>;

/** C99 that sets a plan up, starts and stops it, and sets anew what can change while it runs: the same text for the same plan and style. */
export function codeOf(of: HandOff, style: CodeStyle, words: CodeWords): CodeFiles {
	const base = nameOf({ ...style, case: 'snake' });
	const runtime = runtimeOf(of, style, words);
	const names = { setUp: nameOf(style, 'set', 'up'), start: nameOf(style, 'start'), stop: nameOf(style, 'stop') };
	return new Map([
		[`${base}.h`, text(header(of, style, words, names, runtime, base))],
		[`${base}.c`, text(source(of, style, words, names, runtime, base))],
		[`${base}_values.inc`, text([...words.head('values').map((line) => `# ${line}`), '', ...valueLines(of, style)])]
	]);
}

/** Functions that set anew what can change while it runs. */
export function runtimeOf(of: HandOff, style: CodeStyle, words: CodeWords): RuntimeFunction[] {
	const aims = aimNames(of.derivation.aims.map(({ aim }) => aim));
	const { binding, quantities, codes } = of;
	const change = binding && changesAfter(binding, quantities, { codes });
	return of.derivation.aims.flatMap((one) => {
		const name = aims.get(one.aim.id)!;
		return change ? runtimeFunctions(of, one, style, { name, comment: (turned) => words.function(turned, one), change }) : [];
	});
}

const text = (lines: readonly string[]) => `${lines.join('\n')}\n`;

type Names = Record<'setUp' | 'start' | 'stop', string>;

const comment = (lines: readonly string[]) => ['/*', ...lines.map((line) => ` * ${remark(line)}`.trimEnd()), ' */'];

function header(
	of: HandOff,
	style: CodeStyle,
	words: CodeWords,
	names: Names,
	runtime: readonly RuntimeFunction[],
	base: string
): string[] {
	const guard = macroOf(style, base === style.prefix.toLowerCase() ? '' : base, 'H');
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
		...constants(of, style, words),
		'',
		`/* ${words.about.setUp} */`,
		`int ${names.setUp}(void);`,
		`/* ${words.about.start} */`,
		`int ${names.start}(void);`,
		`/* ${words.about.stop} */`,
		`int ${names.stop}(void);`,
		...runtime.map(({ prototype }) => `${prototype};`),
		'',
		'#ifdef __cplusplus',
		'}',
		'#endif',
		'',
		`#endif /* ${guard} */`
	];
}

/** Values of each aim's links, as the registers stand for them. */
function constants({ derivation }: HandOff, style: CodeStyle, words: CodeWords): string[] {
	const names = aimNames(derivation.aims.map(({ aim }) => aim));
	return derivation.aims.flatMap((one) =>
		one.strip.flatMap(({ name, value }) =>
			Number.isInteger(value) && value >= 0
				? [
						`#define ${macroOf(style, names.get(one.aim.id)!, name)} ${value}${value > 0xffff ? 'UL' : 'U'} /* ${remark(words.constant(one, name, value))} */`
					]
				: []
		)
	);
}

function valueLines({ derivation }: HandOff, style: CodeStyle): string[] {
	const names = aimNames(derivation.aims.map(({ aim }) => aim));
	return derivation.aims.flatMap((one) =>
		one.strip.flatMap(({ name, value }) =>
			Number.isInteger(value) && value >= 0 ? [`.equ ${macroOf(style, names.get(one.aim.id)!, name)}, ${value}`] : []
		)
	);
}

function source(
	of: HandOff,
	style: CodeStyle,
	words: CodeWords,
	names: Names,
	runtime: readonly RuntimeFunction[],
	base: string
): string[] {
	const first = of.accesses.filter((access) => !isSecond(access));
	const second = of.accesses.filter(isSecond);
	const stop = stopping(of);
	const bodies = [
		block(style, `int ${names.setUp}(void)`, [...stepped(first, style, words), 'return 0;']),
		block(style, `int ${names.start}(void)`, [...stepped(second, style, words), 'return 0;']),
		block(style, `int ${names.stop}(void)`, [...stepped(stop, style, words), 'return 0;']),
		...runtime.map(({ lines }) => lines)
	];
	const used = bodies.flat().join('\n');
	return [
		...comment(words.head('source')),
		`#include "${base}.h"`,
		'',
		`/* ${words.about.address} */`,
		'#ifndef NV_ADDR',
		'#define NV_ADDR(a) (a)',
		'#endif',
		...[8, 16, 32].flatMap((bits) =>
			used.includes(`NV_R${bits}(`) ? [`#define NV_R${bits}(a) (*(volatile uint${bits}_t *)(uintptr_t)NV_ADDR(a))`] : []
		),
		'',
		...[8, 16, 32].flatMap((bits) => (used.includes(`nv_wait${bits}(`) ? [...waiting(bits, style, words), ''] : [])),
		...bodies.flatMap((lines, i) => (i === 0 ? lines : ['', ...lines]))
	];
}

const isSecond = ({ step }: Access) => step === 'global' || step === 'run';

/** What stops every timer that was set up. */
function stopping({ binding, quantities, codes }: HandOff): Access[] {
	if (!binding) return [];
	const off: Quantities = new Map(
		[...quantities.keys()].flatMap((unit) => (binding.units.get(unit)?.values.has('run') ? [[unit, new Map([['run', 0]])]] : []))
	);
	return change(binding, off, quantities, { codes }).accesses;
}

/** Statements with a line before each step. */
function stepped(accesses: readonly Access[], style: CodeStyle, words: CodeWords): string[] {
	const lines: string[] = [];
	for (let i = 0; i < accesses.length;) {
		let end = i;
		while (end < accesses.length && accesses[end].step === accesses[i].step && unitOf(accesses[end]) === unitOf(accesses[i])) end++;
		lines.push(`/* ${unitOf(accesses[i])}: ${remark(words.step(accesses[i].step))} */`);
		const own = statements(accesses.slice(i, end), style, words.access, 'return -1;');
		lines.push(...(own.some((line) => line.startsWith('const ')) ? ['{', ...own.map((line) => `\t${line}`), '}'] : own));
		i = end;
	}
	return lines;
}

const unitOf = (access: Access) => access.for[0].split('.')[0];

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
