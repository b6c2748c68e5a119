import type { FormatDetails } from '../../core/formats/index.js';

const ROWS = 'a value change dump, rows of a time and levels, or a wave file: these are wanted';
const RANGE = 'times of at most 9007 s, to the picosecond, are read';

/** What was found and what would be accepted, by the code of what is wrong with a file. */
const PROBLEMS: Record<string, (d: FormatDetails) => [found: string, accepted: string]> = {
	'wav-no-format': () => ['a wave file without its format', 'a “fmt ” chunk before the samples is wanted'],
	'wav-format': ({ length }) => [`a format of ${length} bytes`, 'one of 16 to 4096 bytes is wanted'],
	'wav-samples': ({ kind, bits, channels, rate }) => [
		`${channels} channels of ${bits} bits (kind ${kind}) at ${rate} Hz`,
		'PCM of 8, 16, 24 or 32 bits and floats of 32 or 64, in 1 to 64 channels, are read'
	],
	'wav-no-samples': () => ['a wave file with fewer than two samples', 'at least two are wanted'],
	'bad-gzip': () => ['the packing (gzip) is broken or cut off here', 'a whole gzip file of a recording is wanted'],
	empty: () => ['the file is empty', ROWS],
	binary: () => ['a zero byte: this is no text file', 'value change dumps, rows of a time and levels, and wave files are read'],
	'unknown-section': ({ word, known }) => [`“${word}”`, `one of ${known} is wanted here`],
	'no-timescale': () => ['no $timescale among the declarations', '“$timescale 1 ns $end” or the like says how long a step is'],
	'no-variables': () => ['no $var among the declarations', 'at least one variable is wanted'],
	'bad-timescale': ({ said }) => [`the timescale “${said}”`, '1, 10 or 100 of s, ms, us, ns, ps or fs is wanted'],
	'bad-variable': ({ said }) => [`“$var ${said}”`, 'type, size, identifier and name are wanted'],
	'long-identifier': ({ identifier, most }) => [`the identifier “${identifier}”`, `identifiers have at most ${most} characters`],
	'too-wide': ({ name, bits, most }) => [`“${name}” has ${bits} bits`, `vectors of 1 to ${most} bits are read`],
	'too-many-lines': ({ most }) => [`over ${most} lines are declared`, 'a dump of the signals of interest alone is wanted'],
	'long-token': ({ most }) => [`a word of over ${most} bytes`, 'value change dumps are made of short words'],
	truncated: ({ value }) =>
		value === undefined
			? ['the file ends inside the declarations', 'a value change dump with $enddefinitions and value changes is wanted']
			: [`the file ends after the value “${value}”`, 'an identifier must follow'],
	'no-values': () => ['the file holds declarations and no values', 'at least one value change is wanted'],
	'unknown-word': ({ word }) => [`“${word}”`, 'a time (#), a value (0 1 x z b r) or a $ word is wanted here'],
	'unknown-keyword': ({ word }) => [`“${word}”`, '$dumpvars, $dumpon, $dumpoff, $dumpall, $comment and $end are known among the values'],
	'bad-time': ({ said }) => [`“${said}”`, 'a time is # and digits, below 2^53 steps of the $timescale'],
	'time-back': ({ time, before, unit = '' }) => [
		`time ${time} ${unit} after ${before} ${unit}`.replaceAll(/ +/g, ' ').trim(),
		'times must rise from row to row'
	],
	'real-for-bits': ({ name }) => [`a real value for “${name}”`, 'it was declared with bits'],
	'bad-real': ({ value }) => [`“${value}”`, 'a real value such as r1.65 is wanted'],
	'bad-value': ({ value, name, bits }) => [`“${value}” for “${name}”`, `at most ${bits} of 0 1 x z are wanted`],
	'unknown-identifier': ({ identifier }) => [`the identifier “${identifier}”`, 'only identifiers declared with $var may change'],
	'long-line': ({ most }) => [`a line of over ${most} bytes`, ROWS],
	'no-rows': ({ rows, among }) => [
		among === undefined ? `${rows} rows of numbers` : `no rows of numbers among the first ${among} lines`,
		ROWS
	],
	'nothing-taken': () => ['no line is taken', 'at least one column, channel or variable is wanted'],
	'too-fine': ({ said }) => [`“${said}”`, 'times below 2^53 steps of the $timescale are kept; the file can be read in coarser steps'],
	'too-large': ({ most }) => [`the file holds over ${Number(most) / 1e9} GB once it is unpacked`, 'less, or fewer lines, are wanted'],
	'time-range': ({ said }) => [`the time ${said}`, RANGE],
	'bad-cell': ({ cell, column, name }) => [`“${cell}” in column ${column} (${name})`, 'a number, x, z or nothing is wanted'],
	'bad-time-cell': ({ cell, column, name }) => [`“${cell}” in column ${column} (${name})`, 'a time in every row is wanted'],
	'too-many-cells': ({ most }) => [`more than ${most} cells`, 'rows as wide as the first are wanted']
};

/** What is wrong with a file that cannot be read, and what would be accepted. */
export function formatText({ code, details }: { code: string; details: FormatDetails }): { found: string; accepted: string } {
	const [found, accepted] = PROBLEMS[code]?.(details) ?? [code, ROWS];
	return { found, accepted };
}
