import { type Rational, type Seconds } from '../../exact/index.js';
import type { LevelSource } from '../../trace/index.js';

/** One line of a value change dump, with where its time 0 lies, in seconds. */
export interface DumpLine {
	name: string;
	source: LevelSource;
}

/** More changes than that are refused: they were asked for by mistake. */
export const MOST_DUMPED = 2_000_000;

/**
 * Writes levels as a value change dump (IEEE 1364) with a timescale of one picosecond: each edge is rounded once, half up.
 * `from` and `to` in seconds, the latter excluded; the dump's time 0 is `from`. Throws RangeError for too many changes.
 */
export function writeVcd(lines: readonly DumpLine[], from: Seconds, to: Seconds, comment: string): string {
	const begin = picoseconds(from);
	const changes: { time: bigint; text: string }[] = [];
	const initial: string[] = [];
	lines.forEach(({ source }, i) => {
		const unit = source.unit;
		const first = source.edgesBefore(Number(from.div(unit).floor()) + 1);
		const last = source.edgesBefore(-Number(to.div(unit).neg().floor()));
		if (changes.length + last - first > MOST_DUMPED) throw new RangeError(`more than ${MOST_DUMPED} changes`);
		initial.push(`${word(source.levelAfter(first))}${code(i)}`);
		for (let edge = first; edge < last; edge++) {
			const time = picosecondsOf(source.edgeTime(edge), unit) - begin;
			changes.push({ time, text: `${word(source.levelAfter(edge + 1))}${code(i)}` });
		}
	});
	changes.sort((a, b) => (a.time < b.time ? -1 : a.time > b.time ? 1 : 0));
	const head = [
		`$comment ${comment.replaceAll('$', ' ')} $end`,
		'$timescale 1 ps $end',
		'$scope module plan $end',
		...lines.map(({ name }, i) => `$var wire 1 ${code(i)} ${identifier(name)} $end`),
		'$upscope $end',
		'$enddefinitions $end',
		'#0',
		'$dumpvars',
		...initial,
		'$end'
	];
	const body: string[] = [];
	let now = 0n;
	for (const { time, text } of changes) {
		if (time !== now) body.push(`#${time}`);
		now = time;
		body.push(text);
	}
	const end = picoseconds(to) - begin;
	if (end > now) body.push(`#${end}`);
	return [...head, ...body, ''].join('\n');
}

const PICO = 10n ** 12n;

function picoseconds(time: Rational): bigint {
	return (2n * time.num * PICO + time.den) / (2n * time.den);
}

function picosecondsOf(units: number, unit: Rational): bigint {
	return (2n * BigInt(units) * unit.num * PICO + unit.den) / (2n * unit.den);
}

function word(level: number): string {
	return level === 2 ? 'x' : String(level);
}

/** Identifier codes of printable characters, shortest first. */
function code(i: number): string {
	const [first, size] = [33, 94];
	return i < size ? String.fromCharCode(first + i) : code(Math.floor(i / size) - 1) + String.fromCharCode(first + (i % size));
}

/** Names of a dump have no blanks. */
function identifier(name: string): string {
	return name.trim().replace(/\s+/g, '_') || 'line';
}
