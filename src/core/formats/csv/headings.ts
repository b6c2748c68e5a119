import { Rational, type Seconds } from '../../exact/index.js';
import type { ReadSettings } from '../settings.js';
import { powerOfTen } from '../step.js';
import { longTimeUnit, timeUnit } from './words.js';
import { timeKind } from './times.js';

/** What the lines above the data say of the columns. */
export interface Headings {
	/** Names of all columns; made up where the file has none. */
	names: string[];
	named: boolean;
	/** The heading's cells as they stand, to know it again. */
	heading: string[] | undefined;
	/** Which column holds the time, and the power of ten of its unit. */
	timeColumn: number;
	timeExponent: number;
	timeUnitSaid: boolean;
	/** A unit that the heading names and nobody here knows. */
	unknownUnit?: string;
	/** A column that only numbers the rows. */
	indexColumn?: number;
	/** Seconds from row to row, where the rows are numbered instead of timed. */
	interval?: Seconds;
}

const TIME = /^(time|t|zeit|seconds?|secs?|timestamp|time ?stamp|date ?time|elapsed( time)?|x-?axis|second)(?![a-z0-9])/i;
const INDEX = /^(index|idx|no\.?|nr\.?|#|n|row|sample( ?(no|number|index))?|point|number)$/i;
const INTERVAL = /^(sample|sampling|horizontal)?[ _-]?(interval|period|step|increment|delta)\b/i;
const RATE = /^(sample|sampling)[ _-]?(rate|freq(uency)?)\b/i;

/** Reads the lines before the data; `data`: rows of it, `width`: how many cells they have. */
export function headings(before: readonly string[][], data: readonly string[][], width: number, told: ReadSettings = {}): Headings {
	const rows = before.filter((row) => row.some((cell) => cell !== '')).map((row) => [...row]);
	for (const row of rows) while (row.length > width && row[row.length - 1] === '') row.pop();
	let units: string[] | undefined;
	let names = rows.pop();
	if (names && names.length === width && rows.at(-1)?.length === width && names.every(isUnit)) {
		units = names;
		names = rows.pop();
	}
	const named = names?.length === width;
	const bareNames = names?.map((name) => name.replace(/^#\s*/, ''));
	const all = named ? bareNames! : Array.from({ length: width }, (_, i) => (i === 0 ? 'time' : `column ${i + 1}`));
	const found = countedColumn(all, data, named);
	const counted = told.timeColumn === -1 ? (found ?? 0) : told.timeColumn !== undefined && found === told.timeColumn ? undefined : found;
	const timed = all.findIndex((name, i) => i !== counted && TIME.test(name));
	const likely = timed >= 0 && named ? timed : counted === 0 && width > 2 && rises(data, 1) ? 1 : 0;
	const timeColumn = told.timeColumn === -1 ? counted! : Math.min(width - 1, told.timeColumn ?? likely);
	const heading = all[timeColumn];
	const said = unitOf(units?.[timeColumn] ?? '') ?? unitOf(heading) ?? (named ? lastWord(heading) : undefined);
	const exponent = said === undefined ? undefined : timeUnit(said);
	const unknown = said !== undefined && exponent === undefined && (longTimeUnit(said) || bracketed(units?.[timeColumn] ?? '', heading));
	const typed = told.interval === undefined ? undefined : Rational.tryParse(told.interval);
	const interval = counted === timeColumn ? (typed && typed.sign > 0 ? typed : intervalOf(before)) : undefined;
	return {
		names: all.map((name, i) => (i === timeColumn ? name : bare(name) || `column ${i + 1}`)),
		named,
		heading: named ? names : undefined,
		timeColumn,
		timeExponent: told.timeExponent ?? exponent ?? 0,
		timeUnitSaid: exponent !== undefined || interval !== undefined,
		...(unknown && { unknownUnit: said }),
		...(counted !== undefined && counted !== timeColumn && { indexColumn: counted }),
		...(interval !== undefined && { interval })
	};
}

/** A column that counts the rows, by its name or, in front of a rising column, by its numbers. */
function countedColumn(names: readonly string[], data: readonly string[][], named: boolean): number | undefined {
	const by = named ? names.findIndex((name) => INDEX.test(name.trim())) : -1;
	if (by >= 0 && counts(data, by)) return by;
	return names.length > 2 && !(named && TIME.test(names[0])) && counts(data, 0) && rises(data, 1) ? 0 : undefined;
}

function counts(data: readonly string[][], column: number): boolean {
	const first = Number(data[0]?.[column]);
	return data.length > 1 && data.every((row, i) => row[column] !== '' && Number(row[column]) === first + i);
}

function rises(data: readonly string[][], column: number): boolean {
	const values = data.map((row) => row[column] ?? '');
	if (values.every((value) => timeKind(value))) return true;
	const numbers = values.map((value) => Number(value.replace(',', '.')));
	return numbers.length > 2 && numbers.every((value, i) => value === value && values[i] !== '' && (i === 0 || value > numbers[i - 1]));
}

/** Seconds between two rows as the lines above the data tell: "Sample interval, 1e-6 s", "Sampling rate: 1 MHz". */
function intervalOf(before: readonly string[][]): Headings['interval'] {
	for (const row of before) {
		const text = row.filter((cell) => cell !== '').join(' ');
		const [, name, number, prefix, unit] =
			/^([^\d:=]+?)\s*[:=]?\s*([\d.]+(?:[eE][+-]?\d+)?)\s*([munµμkMG]?)(s|Hz|S\/s|Sa\/s)?$/.exec(text) ?? [];
		if (!number) continue;
		const power = ({ m: -3, u: -6, µ: -6, μ: -6, n: -9, k: 3, M: 6, G: 9 } as Record<string, number>)[prefix] ?? 0;
		const value = Rational.tryParse(number)?.mul(powerOfTen(power));
		if (!value || value.sign <= 0) continue;
		if (RATE.test(name.trim())) return value.inverse();
		if (INTERVAL.test(name.trim()) && unit !== 'Hz') return value;
	}
	return undefined;
}

/** "Heater (V)" is Heater. */
function bare(name: string): string {
	return name.replace(/\s*[([][^()[\]]*[)\]]\s*$/, '').trim();
}

function isUnit(cell: string): boolean {
	const word = cell.replace(/^[([]\s*|\s*[)\]]$/g, '').trim();
	return word === '' || timeUnit(word) !== undefined || /^([fpnuµμmkMG]?[VAW]|volts?|amps?|levels?|bool|logic|-|%|°C)$/i.test(word);
}

/** The unit that a heading names in brackets, behind a stroke or an underscore, or alone: "time (us)", "t/ms", "[s]", "ms". */
function unitOf(heading: string): string | undefined {
	const text = heading.trim();
	return (
		/[([]\s*([^()[\]]+?)\s*[)\]]\s*$/.exec(text)?.[1] ??
		/[/_]\s*([^\s/_]+)$/.exec(text)?.[1] ??
		(timeUnit(text) !== undefined ? text : undefined)
	);
}

/** "time ms" names its unit last. */
function lastWord(heading: string): string | undefined {
	const word = heading.trim().split(/\s+/).at(-1);
	return word !== undefined && word !== heading.trim() && timeUnit(word) !== undefined ? word : undefined;
}

function bracketed(unit: string, heading: string): boolean {
	return unit.trim() !== '' || /[([/]/.test(heading);
}
