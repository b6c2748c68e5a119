import { figureOf } from '../common/build.js';
import type { AimDerivation } from '../common/derivation.js';
import { wishedAs, type PlannedQuantity } from '../common/expect.js';
import { outputsOf } from './own.js';
import type { TableAim } from './schema.js';

/** The carrier on every pin of the shape; its rows are held against a recording one by one (timers.md 13). */
export function expectTable(derivation: AimDerivation<TableAim>): PlannedQuantity[] {
	const carrier = figureOf(derivation, 'carrier');
	const { aim, run } = derivation;
	// Rows with periods of their own have no one carrier.
	if (!carrier || !run.rows || run.rows.some(({ reload }) => reload !== undefined)) return [];
	const channels = outputsOf(aim);
	const lines = channels.length === 1 ? ['pin'] : channels;
	const dead = figureOf(derivation, 'legs-dead');
	return [
		...lines.map((line): PlannedQuantity => ({
			of: 'frequency',
			line,
			planned: carrier,
			unit: 'Hz',
			...wishedAs(derivation.wishes?.rate)
		})),
		...(dead
			? [
					{ of: 'gap', line: 'plus', against: 'minus', planned: dead, unit: 's' } as const,
					{ of: 'gap', line: 'minus', against: 'plus', planned: dead, unit: 's' } as const
				]
			: [])
	];
}
