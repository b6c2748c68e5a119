import type { AimDerivation } from '../../aims/index.js';
import { encode, type Change } from '../../registers/index.js';
import type { SimSequence } from '../../sim/index.js';
import type { HandOff } from '../handOff.js';
import { statements } from './statements.js';
import { aimNames, block, nameOf, remark, scope, tableLines, type CodeStyle } from './style.js';
import { codeTemplate } from './template.js';

/** A table of what registers hold row by row, and the functions that write a row of it. */
export interface RowFunctions {
	unit: string;
	/** What each column is, and its codes by row. */
	quantities: string[];
	rows: number[][];
	/** Names and prototypes of the function that writes a row by its number, and of the one that writes the next. */
	row: { name: string; prototype: string };
	next: { name: string; prototype: string };
	/** The table, then both functions, each a group of lines. */
	groups: string[][];
}

/** What is said of them. */
export interface RowWords {
	row: (rows: number, quantities: readonly string[]) => string;
	next: (loop: boolean) => string;
	change: Change;
}

type Row = SimSequence['rows'][number];

/** Values of one row under the names of their quantities. */
function valuesOf({ compare, reload, prescale }: Row): Map<string, number> {
	return new Map([
		...(prescale === undefined ? [] : [['prescale', prescale] as const]),
		...(reload === undefined ? [] : [['reload', reload] as const]),
		...Object.entries(compare).map(([channel, value]) => [`compare:${channel}`, value] as const)
	]);
}

/** Rows of every timer that is fed row by row, where each of their quantities can be written by its code alone. */
export function rowFunctions(of: HandOff, style: CodeStyle, words: RowWords): RowFunctions[] {
	const names = aimNames(of.derivation);
	return of.system.timers.flatMap(({ id, sequences }) => {
		if (sequences?.length !== 1) return [];
		// Others may share the timer: the rows are its whose channel they write.
		const sharing = of.derivation.aims.filter((one) => one.aim.timer === id);
		const written = Object.keys(sequences[0].rows[0].compare);
		const aim = sharing.find((one) => written.includes(String((one.aim as { channel?: unknown }).channel))) ?? sharing.at(0);
		if (!aim) return [];
		return functionsOf(of, aim, sequences[0], style, words, names.get(aim.aim.id)!) ?? [];
	});
}

function functionsOf(
	{ binding, codes }: HandOff,
	{ aim }: AimDerivation,
	{ rows: planned, loop }: SimSequence,
	style: CodeStyle,
	words: RowWords,
	called: string
): RowFunctions | undefined {
	const unit = aim.timer;
	const values = planned.map(valuesOf);
	const quantities = [...values[0].keys()];
	// A row that says less than the first leaves registers as they are: no table of equal rows says that.
	if (!binding || values.some((one) => quantities.some((name) => !one.has(name)) || one.size !== quantities.length)) return undefined;
	const templates = quantities.map((name) => codeTemplate(binding, unit, name, words.change));
	const own = binding.units.get(unit);
	const rows = values.map((one) =>
		quantities.map((name) => {
			const value = own?.values.get(name);
			return value && encode(value.as, one.get(name)!, value.width, codes.get(unit)?.get(name));
		})
	);
	if (templates.includes(undefined) || rows.some((row) => row.some((code) => code === undefined))) return undefined;
	const numbers = rows.map((row) => row.map(Number));
	const table = nameOf(style, called, 'rows');
	const [row, next] = [nameOf(style, called, 'write', 'row'), nameOf(style, called, 'next', 'row')];
	const most = numbers.reduce((least, one) => Math.max(least, ...one), 0);
	const type = most > 0xffff ? 'uint32_t' : most > 0xff ? 'uint16_t' : 'uint8_t';
	const suffix = most > 0xffff ? 'UL' : 'U';
	const cells = numbers.map((one) => `{${one.map((code) => `${code}${suffix}`).join(', ')}}`);
	const [write, step] = [`int ${row}(uint32_t number)`, `int ${next}(void)`];
	const groups = [
		[`static const ${type} ${table}[${rows.length}][${quantities.length}] =`, ...tableLines(style, cells)],
		block(style, write, [
			`/* ${remark(words.row(rows.length, quantities))} */`,
			...block(style, `if (number >= ${rows.length}UL)`, ['return -1;']),
			...quantities.flatMap((_, k) =>
				scope(style, [`const uint32_t code = ${table}[number][${k}];`, ...statements(templates[k]!, style, () => '', 'return -2;')])
			),
			'return 0;'
		]),
		block(style, step, [
			`/* ${remark(words.next(loop))} */`,
			'static uint32_t number = 0UL;',
			`const int done = ${row}(number);`,
			...(rows.length > 1
				? [...block(style, `if (number < ${rows.length - 1}UL)`, ['number++;']), ...(loop ? block(style, 'else', ['number = 0UL;']) : [])]
				: []),
			'return done;'
		])
	];
	return { unit, quantities, rows: numbers, row: { name: row, prototype: write }, next: { name: next, prototype: step }, groups };
}
