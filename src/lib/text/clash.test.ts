import { expect, test } from 'vitest';
import { applyStep, fernhollow, mergePlans, moveStep, removeStep, setStep, type Plan } from '../../core/plan/index.js';
import { clashPlace, clashValue } from './clash.js';

const base = fernhollow();
const told = (mine: Plan, theirs: Plan) =>
	mergePlans(base, mine, theirs).clashes.map((clash) => [
		clashPlace(clash, [mine, theirs, base]),
		clashValue(clash.mine, clash.base, [mine, theirs], clash.order),
		clashValue(clash.theirs, clash.base, [mine, theirs], clash.order)
	]);
const set = (path: (string | number)[], value: string) => applyStep(base, setStep(base, path, value, 'set'));

test('a clash is told by its place and both its values', () => {
	expect(told(set(['aims', 0, 'rate'], '2 kHz'), set(['aims', 0, 'rate'], ''))).toEqual([['dew heater A · rate', '2 kHz', 'empty']]);
	const without = applyStep(base, removeStep(base, ['aims', 0], 'delete'));
	expect(told(without, set(['aims', 0, 'rate'], '3 kHz'))).toEqual([['dew heater A', 'taken out', 'rate: 3 kHz']]);
	expect(told(set(['name'], 'Mine'), set(['name'], 'Theirs'))).toEqual([['name of the plan', 'Mine', 'Theirs']]);
	const moved = (from: number, to: number) => applyStep(base, moveStep(base, from, to, base.aims[from].group, 'move'));
	const [[place, mine, theirs]] = told(moved(0, 2), moved(3, 1));
	expect([place, mine === theirs, mine.includes('dew heater A')]).toEqual(['aims', false, true]);
	const node = Object.keys(base.clock)[0] ?? base.part.clock[0].id;
	expect(told(set(['clock', node], '2'), set(['clock', node], '4'))).toEqual([
		[`clock · ${base.part.clock.find(({ id }) => id === node)!.name}`, '2', '4']
	]);
});
