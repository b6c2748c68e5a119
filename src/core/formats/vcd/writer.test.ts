import { describe, expect, test } from 'vitest';
import { Rational } from '../../exact/index.js';
import { PeriodicWave, StretchedTrace } from '../../trace/index.js';
import { listLines, readInPieces } from '../../../../tests/unit/formats.js';
import { writeVcd } from './index.js';

const unit = Rational.ratio(1, 3_000_000);

describe('a value change dump of the plan', () => {
	test('rounds each edge once and begins at the window', () => {
		const wave = new PeriodicWave(unit, 7, [2, 5], [1, 0], 0);
		const text = writeVcd([{ name: 'dew heater A', source: wave }], unit.mul(Rational.int(7)), unit.mul(Rational.int(16)), 'two periods');
		expect(text.split('\n')).toEqual([
			'$comment two periods $end',
			'$timescale 1 ps $end',
			'$scope module plan $end',
			'$var wire 1 ! dew_heater_A $end',
			'$upscope $end',
			'$enddefinitions $end',
			'#0',
			'$dumpvars',
			'0!',
			'$end',
			// Edges 9, 12 and 16 of which the last lies outside: 2 and 5 thirds of a microsecond.
			'#666667',
			'1!',
			'#1666667',
			'0!',
			'#3000000',
			''
		]);
	});
	test('is read back by our own reader, every edge of two lines', () => {
		const second = new StretchedTrace(unit, 1, Float64Array.of(4, 9), []);
		const wave = new PeriodicWave(unit, 6, [0, 3], [1, 0], 0);
		const text = writeVcd(
			[
				{ name: 'a', source: wave },
				{ name: 'b', source: second }
			],
			Rational.zero,
			unit.mul(Rational.int(30)),
			''
		);
		const read = listLines(readInPieces(text));
		expect(read[0].split(' ').length).toBe(2 + 9);
		// Units 4 and 9 of a third of a microsecond.
		expect(read[1]).toBe('b 1 1333333:0 3000000:1');
	});
	test('names that a dump cannot have are written so that they are read, each its own', () => {
		const source = new StretchedTrace(unit, 0, Float64Array.of(4), []);
		const names = ['$end', '$var wire', 'a b', 'a_b', '', ' ', 'tab\there', 'ok'];
		const text = writeVcd(
			names.map((name) => ({ name, source })),
			Rational.zero,
			unit.mul(Rational.int(30)),
			'holds $end of its own'
		);
		const read = listLines(readInPieces(text)).map((line) => line.split(' ')[0]);
		expect(read).toEqual(['_$end', '_$var_wire', 'a_b', 'a_b_2', 'line', 'line_2', 'tab_here', 'ok']);
	});
	test('refuses what no one could want', () => {
		const fast = new PeriodicWave(unit, 2, [0, 1], [1, 0], 0);
		expect(() => writeVcd([{ name: 'f', source: fast }], Rational.zero, Rational.one, '')).toThrow(RangeError);
	});
});
