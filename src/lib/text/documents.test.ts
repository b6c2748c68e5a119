import { describe, expect, test } from 'vitest';
import { AnyReader, FormatError } from '../../core/formats/index.js';
import { fileFindings, shippedPart } from '../../core/part/index.js';
import { fernhollow, PlanError, readPlan } from '../../core/plan/index.js';
import { documentsText, documentText, formatText } from './index.js';

/** The codes that a source hands to a call, as its text has them. */
const bytes = (text: string) => new TextEncoder().encode(text);
const HEAD = '$timescale 1 ns $end\n$var wire 2 ! a $end\n$var real 64 r b $end\n$enddefinitions $end\n';

function refusal(text: string): FormatError {
	const reader = new AnyReader();
	try {
		reader.feed(bytes(text));
		reader.end();
	} catch (error) {
		if (error instanceof FormatError) return error;
		throw error;
	}
	throw new Error('it was read');
}

describe('files that cannot be read', () => {
	test.each([
		['', 'the file is empty', 'rows of a time'],
		['a\0b', 'a zero byte', 'are read'],
		['$hello $end ', '“$hello”', 'is wanted here'],
		['$enddefinitions $end ', 'no $timescale', 'how long a step is'],
		['$timescale 3 ns $end ', 'the timescale “3ns”', '1, 10 or 100'],
		[`${HEAD}#0\n1?\n`, 'the identifier “?”', 'declared with $var'],
		[`${HEAD}#5\nb1 !\n#4\n`, 'time 4 after 5', 'must rise'],
		[`${HEAD}#0\nr1.5 !\n`, 'a real value for “a”', 'with bits'],
		[`${HEAD}#0\nrx r\n`, '“rx”', 'r1.65'],
		[`${HEAD}#0\nb012 !\n`, '“b012”', 'at most 2'],
		[HEAD, 'no values', 'at least one'],
		['time,a\n1,oops\n', 'no rows of numbers', 'are wanted']
	])('%j says what was found and what would be accepted', (text, found, accepted) => {
		const said = formatText(refusal(text));
		expect(said.found).toContain(found.replace('“b012”', '012'));
		expect(said.accepted).toContain(accepted);
	});
});

describe('documents that are wrong', () => {
	const heron = shippedPart('heron-32')!;
	test.each<[object, string]>([
		[{ id: 'Heron' }, 'small letters'],
		[{ name: 5 }, 'a text is wanted here'],
		[{ name: '' }, 'at least 1 character is wanted'],
		[{ clock: 'none' }, 'a list is wanted here'],
		[{ core: 'nowhere' }, 'there is no clock node "nowhere"'],
		[{ colour: 'red' }, 'no such setting'],
		[{ version: 9 }, 'newer than the 3']
	])('%j', (change, want) => {
		const found = fileFindings({ ...heron, ...change });
		expect(found.map(documentText).join()).toContain(want);
	});
	test('a plan tells every place', () => {
		try {
			readPlan({ ...fernhollow(), name: 5, note: 'x'.repeat(5000) });
			expect.unreachable();
		} catch (error) {
			expect(documentsText((error as PlanError).findings)).toBe('name: a text is wanted here; note: at most 4000 characters are taken');
		}
	});
});
