import type { AimKind } from '../common/kind.js';
import { linkQuantities } from '../common/quantities.js';
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
	expect({ run }) {
		return run.interval ? [{ of: 'interval', line: 'events', planned: run.interval.seconds, unit: 's' }] : [];
	},
	set: (derivation) => ({ ...linkQuantities(derivation), mode: derivation.aim.mode })
};
