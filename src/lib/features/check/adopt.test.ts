import { describe, expect, test } from 'vitest';
import { applyStep, fernhollow, invertStep } from '../../../core/plan/index.js';
import { adopt } from './adopt.js';

const plan = fernhollow();
const reload = { timer: 'timer-d', what: 'reload', planned: 59_999, found: 60_000 };

describe('taking a suspect', () => {
	test('of a register notes for the firmware what it holds and what belongs there, and can be undone', () => {
		const { kind, step } = adopt(plan, { codes: ['reload-one-more'], where: [reload] }, 'heater-a')!;
		expect(kind).toBe('note');
		const next = applyStep(plan, step);
		expect(next.aims.find(({ id }) => id === 'heater-a')!.note).toContain('reload 60000 instead of 59999');
		expect(applyStep(next, invertStep(step))).toEqual(plan);
	});
	test('of a clock takes the settings that the pins show', () => {
		const { kind, step } = adopt(plan, { codes: ['clock-at-reset'], where: [{ ...reload, what: 'clock', clock: {} }] }, 'heater-a')!;
		expect([kind, applyStep(plan, step).clock]).toEqual(['clock', {}]);
	});
	test('of exchanged channels maps them the other way round', () => {
		const frame = { recording: 'r', aim: 'heater-a', instrument: '' };
		const mapped = {
			...plan,
			mappings: [
				{ ...frame, id: 'a', line: 'one' },
				{ ...frame, id: 'b', line: 'two', role: 'pin' }
			]
		};
		const { step } = adopt(mapped, { codes: ['swapped-channels'], where: [{ ...reload, found: 'one, two' }] }, undefined)!;
		expect(applyStep(mapped, step).mappings.map(({ line }) => line)).toEqual(['two', 'one']);
	});
	test('of nobody’s timer is nothing', () => {
		expect(adopt(plan, { codes: ['reload-one-more'], where: [{ ...reload, timer: 'none' }] }, undefined)).toBeUndefined();
	});
});
