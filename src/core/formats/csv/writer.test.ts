import { describe, expect, test } from 'vitest';
import { Rational } from '../../exact/index.js';
import { StretchedTrace } from '../../trace/index.js';
import { csvRow, edgePieces } from './writer.js';

describe('cells that leave', () => {
	test.each([
		['=1+1', "'=1+1"],
		['+1+1', "'+1+1"],
		['-1+1', "'-1+1"],
		['@SUM(A1)', "'@SUM(A1)"],
		['=HYPERLINK("http://dome.example","x")', `"'=HYPERLINK(""http://dome.example"",""x"")"`],
		['\t=1', `"'\t=1"`],
		['  =1', "'  =1"],
		['\uff1d1', "'\uff1d1"],
		['%0', "'%0"],
		// What is a number stays one.
		['-1.5', '-1.5'],
		['+3e-9', '+3e-9'],
		['-1/3', '-1/3'],
		['wind cups', 'wind cups'],
		['a,b', '"a,b"'],
		['a;b', '"a;b"'],
		['say "x"', '"say ""x"""'],
		['', '']
	])('%j', (text, cell) => expect(csvRow([text])).toBe(cell));

	test('numbers are what they are', () => expect(csvRow([1, -2.5, 'x'])).toBe('1,-2.5,x'));

	test('so are the headings of lines', () => {
		const line = (name: string) => ({ name, source: new StretchedTrace(Rational.parse('1e-6'), 0, new Float64Array(0), []) });
		const [head] = [...edgePieces([line('=cmd'), line('b')], Rational.zero, Rational.one, 'time (s)')].join('').split('\n');
		expect(head).toBe("time (s),'=cmd,b");
	});
});
