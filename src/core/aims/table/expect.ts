import { figureOf } from '../common/build.js';
import type { AimDerivation } from '../common/derivation.js';
import type { PlannedQuantity } from '../common/expect.js';
import type { TableAim } from './schema.js';

/** The carrier on every pin of the shape; its rows are held against a recording one by one (timers.md 13). */
export function expectTable(derivation: AimDerivation<TableAim>): PlannedQuantity[] {
	const carrier = figureOf(derivation, 'carrier');
	const { aim, run } = derivation;
	// Rows with periods of their own have no one carrier.
	if (!carrier || !run.rows || run.rows.some(({ reload }) => reload !== undefined)) return [];
	const lines = aim.second === '' ? ['pin'] : [aim.channel, aim.second];
	return lines.map((line) => ({ of: 'frequency', line, planned: carrier, unit: 'Hz' }));
}
