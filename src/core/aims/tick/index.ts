import type { AimKind } from '../common/kind.js';
import { largest } from '../../timer/index.js';
import { wishedAs } from '../common/expect.js';
import { linkQuantities } from '../common/quantities.js';
import { turnedTime } from '../common/turned.js';
import { buildTick } from './build.js';
import { deriveTick } from './derive.js';
import { schema, type TickAim } from './schema.js';

/** An event at even times. */
export const tickKind: AimKind<TickAim> = {
	kind: 'tick',
	schema,
	fresh: { mode: 'up', every: '1 ms', tolerance: '0.1 %', notice: 'interrupt', service: '40', from: '', to: '' },
	leads: false,
	mainFigures: ['period'],
	served: ({ notice }) => notice === 'interrupt',
	software: ({ notice }) => (notice === 'interrupt' ? { does: 'ticks' } : undefined),
	timerUse({ mode }) {
		if (mode === 'up' || mode === 'down' || mode === 'updown') return 'period';
		return mode === 'free' || mode === 'advance' ? 'free' : 'alone';
	},
	channels: () => [],
	serves: () => true,
	channelsOn: () => [],
	settle: (aim, timer) => ({ ...aim, mode: timer.modes.includes(aim.mode) ? aim.mode : timer.modes[0] }),
	derive: deriveTick,
	build: buildTick,
	expect({ run, wishes }) {
		const wish = wishes?.rate && { ...wishes.rate, value: wishes.rate.value.inverse() };
		return run.interval ? [{ of: 'interval', line: 'events', planned: run.interval.seconds, unit: 's', ...wishedAs(wish) }] : [];
	},
	turned(derivation) {
		const { run, timer, aim } = derivation;
		if (!run.interval || !timer) return [];
		const { width } = timer;
		const { late } = run.interval;
		const [full, most] = [2 ** width, largest(width)];
		switch (aim.mode) {
			case 'preload':
				return [
					turnedTime(derivation, 'interval', 'preload', { slope: -1, offset: full + late, least: 1 + late, most: full + late, width })
				];
			case 'advance':
				return [turnedTime(derivation, 'interval', 'advance', { offset: 0, least: 1, most, width })];
			case 'clear':
				return [turnedTime(derivation, 'interval', 'compare', { offset: -1 - late, least: 1 + late, most: full + late, width })];
			default:
				return [];
		}
	},
	set: (derivation) => ({ ...linkQuantities(derivation), mode: derivation.aim.mode })
};
