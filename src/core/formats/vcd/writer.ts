import type { Seconds } from '../../exact/index.js';
import { edgesWithin, mergedEdges, picoseconds, type EdgeLine } from '../edges.js';

/** More changes than that are refused where all of a dump must stand in memory: they were asked for by mistake. */
export const MOST_DUMPED = 2_000_000;

/** As vcdPieces, as one text. Throws RangeError for more than MOST_DUMPED changes. */
export function writeVcd(lines: readonly EdgeLine[], from: Seconds, to: Seconds, comment: string): string {
	const changes = lines.reduce((sum, { source }) => {
		const [first, last] = edgesWithin(source, from, to);
		return sum + last - first;
	}, 0);
	if (changes > MOST_DUMPED) throw new RangeError(`more than ${MOST_DUMPED} changes`);
	return [...vcdPieces(lines, from, to, comment)].join('');
}

/**
 * Writes levels as a value change dump (IEEE 1364) with a timescale of one picosecond, piece by piece, however long: each
 * edge is rounded once, half up. `from` and `to` in seconds, the latter excluded; the dump's time 0 is `from`.
 */
export function* vcdPieces(lines: readonly EdgeLine[], from: Seconds, to: Seconds, comment: string): Generator<string, void> {
	const begin = picoseconds(from);
	const ends = lines.map(({ source }) => edgesWithin(source, from, to));
	yield [
		`$comment ${comment.replaceAll('$', ' ')} $end`,
		'$timescale 1 ps $end',
		'$scope module plan $end',
		...dumpNames(lines.map(({ name }) => name)).map((name, i) => `$var wire 1 ${dumpCode(i)} ${name} $end`),
		'$upscope $end',
		'$enddefinitions $end',
		'#0',
		'$dumpvars',
		...lines.map(({ source }, i) => `${word(source.levelAfter(ends[i][0]))}${dumpCode(i)}`),
		'$end\n'
	].join('\n');
	let now = 0n;
	for (const { time, line, level } of mergedEdges(lines, ends)) {
		const at = time - begin;
		yield `${at === now ? '' : `#${at}\n`}${word(level)}${dumpCode(line)}\n`;
		now = at;
	}
	const end = picoseconds(to) - begin;
	if (end > now) yield `#${end}\n`;
}

function word(level: number): string {
	return level === 2 ? 'x' : String(level);
}

/** Identifier codes of printable characters, shortest first. */
export function dumpCode(i: number): string {
	const [first, size] = [33, 94];
	return i < size ? String.fromCharCode(first + i) : dumpCode(Math.floor(i / size) - 1) + String.fromCharCode(first + (i % size));
}

/** Names as a dump can have them: without blanks and control characters, none that begins like its own words, and each of its own. */
export function dumpNames(names: readonly string[]): string[] {
	const taken = new Set<string>();
	return names.map((name) => {
		const plain =
			name
				.trim()
				.replace(/[\s\p{Cc}]+/gu, '_')
				.replace(/^\$/, '_$') || 'line';
		let own = plain;
		for (let i = 2; taken.has(own); i++) own = `${plain}_${i}`;
		taken.add(own);
		return own;
	});
}
