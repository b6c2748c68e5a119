import { describe, expect, test } from 'vitest';
import { quietLevels, type Course } from './course.js';

const course = (more: Partial<Course>): Course => ({ level: 0, times: new Float64Array(0), ...more });
const edges = (...times: number[]) => Float64Array.from(times);

describe('levels at which a line may have stood still', () => {
	test.each([
		['one that never moves', course({ level: 1 }), [1]],
		['one that settles: behind its last edge', course({ times: edges(0.1) }), [1]],
		['one that is quiet for long enough at both levels', course({ times: edges(12, 30, 30.5) }), [0, 1]],
		['a pulse that comes too often', course({ times: edges(1, 2), turn: { first: 0, count: 2, period: 3 } }), []],
		['a pulse whose low stretch is long enough', course({ times: edges(0, 1), turn: { first: 0, count: 2, period: 20 } }), [0]],
		['one that was not followed far enough', course({ times: edges(1, 2), cut: true, until: 8 }), undefined],
		['one that was followed far enough', course({ times: edges(1, 2, 3), cut: true, until: 14 }), [1]],
		['one with more edges than are kept', course({ times: edges(1, 2, 3), cut: true }), undefined]
	])('anywhere: %s', (_, of, levels) => {
		// Ten seconds were recorded; clocks may be off by a twentieth.
		expect(quietLevels(of, 100, 110, 0.001)).toEqual(levels);
	});

	test.each([
		['before its first edge', course({ times: edges(25) }), [0]],
		['behind its last', course({ times: edges(5) }), [1]],
		['with an edge inside', course({ times: edges(15) }), []],
		['with an edge at the very end', course({ times: edges(20) }), [0]],
		['between two edges of a turn', course({ times: edges(0, 9), turn: { first: 0, count: 2, period: 21 } }), [0]],
		['of what is not known', course({ times: edges(5), cut: true, until: 18 }), undefined],
		['of what is known for just so long', course({ times: edges(5), cut: true, until: 20 }), [1]]
	])('where it is laid: %s', (_, of, levels) => {
		// Plan time 10 to 20.
		expect(quietLevels(of, 110, 120, 0.001, 100)).toEqual(levels);
	});
});
