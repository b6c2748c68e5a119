import type { AimDerivation } from '../common/derivation.js';
import type { PlannedQuantity } from '../common/expect.js';
import type { PairAim } from './schema.js';

/** Both outputs' rate, width and duty, and the gap at each side (timers.md 13). Empty where a pulse is swallowed. */
export function expectPair({ pulse, figures, run }: AimDerivation<PairAim>): PlannedQuantity[] {
	const widthOf = (name: string) => figures.find((figure) => figure.name === name)?.value;
	if (!pulse || !run.dead) return [];
	const dead = run.dead;
	return [
		...(['main', 'complementary'] as const).flatMap((line): PlannedQuantity[] => {
			const high = widthOf(line);
			if (!high || high.sign === 0) return [];
			return [
				{ of: 'frequency', line, planned: pulse.hz, unit: 'Hz' },
				{ of: 'high', line, planned: high, unit: 's' },
				{ of: 'duty', line, planned: high.mul(pulse.hz), unit: '%' }
			];
		}),
		{ of: 'gap', line: 'main', against: 'complementary', planned: dead, unit: 's' },
		{ of: 'gap', line: 'complementary', against: 'main', planned: dead, unit: 's' }
	];
}
