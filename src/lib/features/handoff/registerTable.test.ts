import { expect, test } from 'vitest';
import { handOff, registerTable, residentsOf, stepGroups } from '../../../core/handoff/index.js';
import { derivePlan, fernhollow, fernhollowLamp } from '../../../core/plan/index.js';
import { tableAs } from './registerTable.js';

const dome = handOff(derivePlan(fernhollow()));
const lamp = handOff(derivePlan(fernhollowLamp()));

test('every register is told in hexadecimal, decimal, binary and bytes, with what lives in it', () => {
	const rows = registerTable(dome);
	// 59999 = 0xEA5F.
	expect(rows.find(([name]) => name === 'TIMERD.TOPVAL')).toEqual([
		'TIMERD.TOPVAL',
		'0x40001410',
		'0x00000000',
		'0x0000EA5F',
		'59999',
		`0b${(59_999).toString(2).padStart(32, '0')}`,
		'5F EA 00 00',
		'timer-d.reload[15:0] = 59999'
	]);
});

test('a number in two registers shows its bits in each', () => {
	const residents = residentsOf(lamp);
	const halves = ['TIMER1.TOPVALHI', 'TIMER1.TOPVALLO'].map((key) => residents.get(key)!.map(({ name, bits }) => [name, bits.length]));
	expect(halves).toEqual([[['timer-1.reload', 1]], [['timer-1.reload', 1]]]);
});

test('as CSV, Markdown and text each register has its line', () => {
	const rows = registerTable(lamp);
	for (const [form, more] of [
		['csv', 2],
		['markdown', 3],
		['text', 2]
	] as const)
		expect(tableAs(form, rows).split('\n').length).toBe(rows.length + more);
	expect(tableAs('markdown', rows)).toMatch(/^\| register \| address \|/);
});

test('accesses of one step of one unit stand together, in their order', () => {
	const groups = stepGroups(dome.accesses);
	expect(groups.flatMap(({ accesses }) => accesses)).toEqual(dome.accesses);
	expect(groups.slice(0, 2).map(({ unit, step }) => [unit, step])).toEqual([
		['clock', 'tree'],
		['pins', 'pins']
	]);
});
