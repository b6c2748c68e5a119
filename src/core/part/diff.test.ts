import { expect, test } from 'vitest';
import { differences, shippedPart } from './index.js';

const heron = shippedPart('heron-32')!;
const said = (a: unknown, b: unknown) =>
	differences(a, b).map(({ path, before, after }) => `${path.join('.')}: ${JSON.stringify(before)} -> ${JSON.stringify(after)}`);

test('nothing differs from itself, nor from a copy', () => expect(said(heron, structuredClone(heron))).toEqual([]));

test('an element is found by its id, wherever it stands', () => {
	const loop = heron.clock.find((node) => node.id === 'loop')!;
	const clock = [...heron.clock.filter((node) => node !== loop).reverse(), { ...loop, max: { hz: '300000000', why: loop.max!.why } }];
	expect(said(heron, { ...heron, clock })).toEqual(['clock.loop.max.hz: "288000000" -> "300000000"']);
});

test('what comes and what goes is told whole', () => {
	const timers = [...heron.timers.slice(1), { id: 'new', name: 'New' }];
	const found = differences(heron, { ...heron, timers });
	expect(found.map(({ path, before, after }) => [path.join('.'), before !== undefined, after !== undefined])).toEqual([
		['timers.timer-a', true, false],
		['timers.new', false, true]
	]);
});

test('lists of plain values are told as lists, and other shapes as they are', () => {
	expect(said({ by: [1, 2, 4] }, { by: [1, 2, 4, 8] })).toEqual(['by: [1,2,4] -> [1,2,4,8]']);
	expect(said({ by: [1, 2] }, { by: { from: 1, to: 2 } })).toEqual(['by: [1,2] -> {"from":1,"to":2}']);
	expect(said(undefined, 5)).toEqual([': undefined -> 5']);
});
