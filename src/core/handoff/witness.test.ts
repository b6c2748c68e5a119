import { describe, expect, test } from 'vitest';
import { derivePlan, fernhollow } from '../plan/index.js';
import { dumpSays, handOff, holdDump, type SuspectedPlace } from './index.js';

const of = handOff(derivePlan(fernhollow()));
/** Of timer-d: reload 59999, prescale 1. */
const held = (text: string) => holdDump(of, text)!;
const reload = { timer: 'timer-d', what: 'reload', found: 60_000 };
const prescale = { timer: 'timer-d', what: 'prescale', found: 2 };
const says = (text: string, where: SuspectedPlace[], codes: string[] = []) =>
	dumpSays(held(text), { codes, where, of: [{ timer: 'timer-d', channel: 'ch1' }] });

describe('a dump as a witness', () => {
	test('holds where it has what is supposed, contradicts where it has something else, and is silent of the rest', () => {
		expect(says('TIMERD.TOPVAL = 0xEA60', [reload])).toMatchObject({ word: 'holds', quantities: [{ read: 60_000 }] });
		expect(says('TIMERD.TOPVAL = 0xEA5F', [reload])).toMatchObject({ word: 'contradicts', quantities: [{ read: 59_999 }] });
		expect(says('TIMERD.TICKDIV = 0', [reload])).toBeUndefined();
		expect(says('TIMERD.TOPVAL = 0xEA60', [{ ...reload, timer: 'timer-b' }])).toBeUndefined();
	});

	test('of a pair, one that is otherwise speaks against both; one that is unknown against none', () => {
		expect(says('TIMERD.TOPVAL = 0xEA60\nTIMERD.TICKDIV = 0', [reload, prescale])).toMatchObject({
			word: 'contradicts',
			quantities: [{ quantity: 'prescale', read: 1 }]
		});
		expect(says('TIMERD.TOPVAL = 0xEA60', [reload, prescale])?.word).toBe('holds');
	});

	test('a register that is not as planned speaks against whoever leaves it so', () => {
		expect(says('TIMERD.TOPVAL = 0xEA5F\nTIMERD.TICKDIV = 1', [reload])).toMatchObject({ word: 'contradicts' });
		expect(says('TIMERD.TICKDIV = 1', [reload])).toMatchObject({ word: 'contradicts', quantities: [{ quantity: 'prescale', read: 2 }] });
		expect(says('TIMERD.TICKDIV = 1', [reload], ['both-one-more'])).toBeUndefined();
		expect(says('TIMERC.TOPVAL = 1', [reload])).toBeUndefined();
		const clock = { timer: '', what: 'core', found: '2', clock: { core: '2' } };
		expect(says('TIMERD.TICKDIV = 1', [clock])).toMatchObject({ word: 'contradicts', quantities: [{ quantity: 'prescale' }] });
	});

	test('of a compare worked out by hand the number counts, and not the share beside it', () => {
		const compare = [...of.quantities.get('timer-d')!.entries()].find(([name]) => name.startsWith('compare:'))!;
		const channel = compare[0].slice('compare:'.length);
		const { registers } = of;
		const key = registers.map(({ register }) => register.key).filter((name) => name.startsWith('TIMERD.'));
		const dump = key.map((name) => `${name} = ${registers.find(({ register }) => register.key === name)!.value}`).join('\n');
		const place = { timer: 'timer-d', channel, what: 'compare' };
		expect(says(dump, [{ ...place, found: `${String(compare[1])} (35 %)` }])?.word).toBe('holds');
		expect(says(dump, [{ ...place, found: 7 }])?.word).toBe('contradicts');
	});
});
