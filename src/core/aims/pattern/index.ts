import type { AimKind } from '../common/kind.js';
import { linkQuantities } from '../common/quantities.js';
import { buildPattern } from './build.js';
import { derivePattern } from './derive.js';
import { schema, type PatternAim } from './schema.js';

/** A clock and data lines sent to a port, a word an update. */
export const patternKind: AimKind<PatternAim> = {
	kind: 'pattern',
	schema,
	fresh: {
		rate: '100 kHz',
		tolerance: '0.1 %',
		lines: [
			{ id: 'line-1', name: 'clock', pin: '', bit: '0', levels: '0101010101010101' },
			{ id: 'line-2', name: 'data', pin: '', bit: '1', levels: '0011001111000011' }
		],
		loop: 'yes',
		least: '6',
		most: '30'
	},
	leads: true,
	mainFigures: ['pace', 'length'],
	timerUse: () => 'period',
	channels: () => [],
	pins: ({ lines }) => lines.map(({ name, pin }) => ({ what: name, port: pin })),
	serves: (timer) =>
		timer.modes.some((mode) => mode === 'up' || mode === 'down' || mode === 'updown') && (timer.paced ?? []).includes('update'),
	channelsOn: () => [],
	settle: (aim) => aim,
	derive: derivePattern,
	build: buildPattern,
	software: () => ({ does: 'words' }),
	expect: () => [],
	set: (derivation) => ({ ...linkQuantities(derivation), ...(derivation.use && { 'paced:update': 1 }) })
};
