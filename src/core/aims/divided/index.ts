import type { AimKind } from '../common/kind.js';
import { linkQuantities } from '../common/quantities.js';
import { buildDivided } from './build.js';
import { deriveDivided } from './derive.js';
import { expectDivided } from './expect.js';
import { schema, type DividedAim } from './schema.js';

/** Several pulses counted out of one tick by software. */
export const dividedKind: AimKind<DividedAim> = {
	kind: 'divided',
	schema,
	fresh: {
		mode: 'up',
		every: '100 us',
		tolerance: '0.1 %',
		service: '40',
		frame: '20 ms',
		frameTolerance: '0.1 %',
		factor: '255',
		outputs: [{ id: 'output-1', name: 'output 1', pin: '', width: '1.5 ms' }]
	},
	leads: false,
	mainFigures: ['frame', 'load'],
	software: () => ({ does: 'levels' }),
	served: () => true,
	timerUse: () => 'alone',
	channels: () => [],
	pins: ({ outputs }) => outputs.map(({ name, pin }) => ({ what: name, port: pin })),
	serves: () => true,
	channelsOn: () => [],
	settle: (aim, timer) => ({ ...aim, mode: timer.modes.includes(aim.mode) ? aim.mode : timer.modes[0] }),
	derive: deriveDivided,
	build: buildDivided,
	expect: expectDivided,
	set: (derivation) => ({ ...linkQuantities(derivation), mode: derivation.aim.mode })
};
