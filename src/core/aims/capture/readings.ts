import { Rational, type Hertz } from '../../exact/index.js';
import type { AimDerivation } from '../common/derivation.js';
import { readRate } from '../common/fields.js';
import { relation, stepsIn, type Reach, type Relation, type RelationEnd } from '../common/relations.js';
import type { CaptureAim } from './schema.js';

/** What comes against what is read of it: as a rate, and in the ticks or edges that it is worked out from. */
export function readRates({ aim, figures, run }: AimDerivation<CaptureAim>): Relation[] {
	const [lowest, highest] = [readRate(aim.lowest), readRate(aim.highest)];
	const figure = (name: string) => figures.find((one) => one.name === name)?.value;
	const [tick, gate] = [figure('tick'), figure('gate')];
	if (!lowest.ok || !highest.ok || (!tick && !gate)) return [];
	const rate: RelationEnd = { of: 'rate', unit: 'Hz' };
	const range = { low: lowest.value, high: highest.value };
	// A faster source counts more ticks of a period, and closes its gate earlier: either way what it reads is lower.
	const ways = (hz: Hertz): Reach[] => {
		if (!tick) return [gated(hz, gate!)];
		const { ways: all = [], gate: above } = run.switching ?? {};
		const open = all.filter(({ up, down }) => (!up || hz.compare(up) <= 0) && (!down || hz.compare(down) >= 0));
		const captured = open.flatMap(({ every }): Reach[] => {
			const periods = Rational.int(every);
			const [few, many] = stepsIn(periods.div(hz).div(tick));
			return few > 0n ? [[periods.div(Rational.of(many).mul(tick)), periods.div(Rational.of(few).mul(tick))]] : [];
		});
		return above && hz.compare(above.down) >= 0 ? [...captured, gated(hz, above.seconds)] : captured;
	};
	const relations = [relation(rate, rate, { ...range, stretch: 'time', at: (hz) => (hz.sign > 0 ? widest(ways(hz)) : undefined) })];
	const alone = tick && !run.switching?.gate && run.switching?.ways.length === 1 ? run.switching.ways[0] : undefined;
	if (tick && alone)
		relations.push(
			relation(
				rate,
				{ of: 'ticks', unit: '' },
				{
					...range,
					stretch: 'rate',
					at: (hz) => (hz.sign > 0 ? wholes(stepsIn(Rational.int(alone.every).div(hz).div(tick))) : undefined)
				}
			)
		);
	if (!tick && gate)
		relations.push(
			relation(
				rate,
				{ of: 'count', unit: '' },
				{
					...range,
					stretch: 'time',
					at: (hz) => (hz.sign > 0 ? wholes(stepsIn(hz.mul(gate))) : undefined)
				}
			)
		);
	return relations;
}

function gated(hz: Hertz, gate: Rational): Reach {
	const [few, many] = stepsIn(hz.mul(gate));
	return [Rational.of(few).div(gate), Rational.of(many).div(gate)];
}

function wholes([few, many]: [bigint, bigint]): Reach {
	return [Rational.of(few), Rational.of(many)];
}

function widest(all: readonly Reach[]): Reach | undefined {
	if (all.length === 0) return undefined;
	return all.reduce(([low, high], [a, b]): Reach => [a.compare(low) < 0 ? a : low, b.compare(high) > 0 ? b : high]);
}
