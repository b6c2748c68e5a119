import { expect, test } from 'vitest';
import { blocksOf, fieldWords, SvdReader } from '../formats/svd/index.js';
import { svdOf } from '../handoff/svd.js';
import { shippedPart, shippedParts } from '../part/index.js';
import { carriedOver, guessBindings, likesOf, readBinding, withGuesses, type Binding } from './index.js';

/** A part's registers as its SVD file says them, and nothing of what lives in them. */
function described(id: string) {
	const part = shippedPart(id)!;
	const truth = readBinding(part.binding).binding!;
	const reader = new SvdReader();
	reader.feed(svdOf(part.name, truth));
	const description = reader.end();
	return { part, truth, blocks: blocksOf(description), words: fieldWords(description) };
}

const placeOf = (binding: Binding, unit: string, quantity: string) =>
	binding.units
		.get(unit)
		?.values.get(quantity)
		?.pieces.map(({ register, high, low }) => `${register.key}[${high}:${low}]`);

test.each(shippedParts().map(({ id }) => id))('nearly all places of %s are guessed from its SVD file, and none wrong', (id) => {
	const { part, truth, blocks, words } = described(id);
	const found = guessBindings(part, blocks, words);
	const made = readBinding(withGuesses({ blocks }, found));
	expect(made.findings).toEqual([]);
	const all = [...truth.units.values()].flatMap(({ id: unit, values }) => [...values.keys()].map((quantity) => ({ unit, quantity })));
	const bound = found.guesses.map(({ unit, quantity }) => [unit, quantity, placeOf(made.binding!, unit, quantity)]);
	expect(bound).toEqual(found.guesses.map(({ unit, quantity }) => [unit, quantity, placeOf(truth, unit, quantity)]));
	expect(bound.length / all.length).toBeGreaterThan(0.95);
});

test('names of the trade are known, and codes are taken by their names; where none tells them a guess is little sure', () => {
	const part = shippedPart('heron-32')!;
	const fields = { GO: '0', DIRECTION: '5:4' };
	const blocks = {
		TIMER_B: {
			bits: 32,
			registers: {
				CONTROL: { at: 0, fields },
				PRESCALER: { at: 4 },
				PERIOD: { at: 8 },
				COMPARE1: { at: 12 },
				COMPARE2: { at: 16 },
				NOW: { at: 20 }
			}
		}
	};
	const guess = (words = {}) =>
		new Map(guessBindings(part, blocks, words).guesses.map(({ quantity, place, value, sure }) => [quantity, { place, value, sure }]));
	const plain = guess();
	expect([...plain].map(([quantity, { place }]) => `${quantity} ${place}`).sort()).toEqual(
		[
			'compare:ch1 COMPARE1',
			'compare:ch2 COMPARE2',
			'count NOW',
			'mode CONTROL[DIRECTION]',
			'prescale PRESCALER',
			'reload PERIOD',
			'run CONTROL[GO]'
		].sort()
	);
	const told = guess({
		'TIMER_B.CONTROL.DIRECTION': [
			['up', 2],
			['down', 1],
			['updown', 3]
		]
	});
	expect(told.get('mode')!.value).toMatchObject({ as: { up: 2, down: 1, updown: 3 } });
	expect(told.get('mode')!.sure).toBeGreaterThan(plain.get('mode')!.sure);
});

test('what is bound stays, and a guess that would make the binding wrong is left out', () => {
	const { part, blocks, words } = described('sprat-8');
	const found = guessBindings(part, blocks, words);
	const [first] = found.guesses.filter(({ quantity }) => quantity === 'reload');
	const own = { blocks, units: { [first.unit]: { block: found.blocks[first.unit], values: { reload: { in: first.value, as: 'v+1' } } } } };
	const wrong = { unit: first.unit, quantity: 'count', place: 'NOWHERE', value: 'NOWHERE', sure: 1 };
	const made = readBinding(
		withGuesses(own, { ...found, guesses: [wrong, ...found.guesses.filter(({ quantity }) => quantity !== 'count')] })
	);
	expect(made.findings).toEqual([]);
	expect(made.binding!.units.get(first.unit)!.values.get('reload')!.as).toMatchObject({ kind: 'formula', plus: 1n });
	expect(made.binding!.units.get(first.unit)!.values.has('count')).toBe(false);
});

test('one timer’s bindings are carried over to those like it, each with its own gate', () => {
	const { part, truth, blocks, words } = described('heron-32');
	const found = guessBindings(part, blocks, words);
	const only = { ...found, guesses: found.guesses.filter(({ unit }) => unit === 'timer-c') };
	const binding = withGuesses({ blocks }, only);
	const likes = likesOf(part, binding, 'timer-c');
	expect(likes.length).toBeGreaterThan(1);
	const made = readBinding(carriedOver(part, binding, 'timer-c'));
	expect(made.findings).toEqual([]);
	for (const { unit } of likes)
		for (const quantity of made.binding!.units.get(unit)!.values.keys())
			expect([unit, quantity, placeOf(made.binding!, unit, quantity)]).toEqual([unit, quantity, placeOf(truth, unit, quantity)]);
	expect(likesOf(part, carriedOver(part, binding, 'timer-c'), 'timer-c')).toEqual([]);
});
