import { Rational } from '../../exact/index.js';
import type { AimDerivation } from '../common/derivation.js';
import { pulsing, type PlannedQuantity } from '../common/expect.js';
import type { PairAim } from './schema.js';

/** Both outputs' rate, width and duty, and the gap at each side (timers.md 13). Empty where a pulse is swallowed. */
export function expectPair({ pulse, figures, run, wishes }: AimDerivation<PairAim>): PlannedQuantity[] {
	const widthOf = (name: string) => figures.find((figure) => figure.name === name)?.value;
	if (!pulse || !run.dead) return [];
	const dead = run.dead;
	return [
		...(['main', 'complementary'] as const).flatMap((line): PlannedQuantity[] => {
			const high = widthOf(line);
			const duty = high?.mul(pulse.hz);
			if (!duty) return [];
			if (duty.sign === 0 || duty.equals(Rational.one)) return [{ of: 'level', line, planned: duty, unit: '' }];
			// A wished duty is that of the reference: dead time takes from both sides.
			return pulsing(line, { rate: pulse.hz, duty }, { rate: wishes?.rate });
		}),
		{ of: 'gap', line: 'main', against: 'complementary', planned: dead, unit: 's' },
		{ of: 'gap', line: 'complementary', against: 'main', planned: dead, unit: 's' }
	];
}
