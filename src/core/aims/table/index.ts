import type { AimKind } from '../common/kind.js';
import { pulseChannels } from '../common/places.js';
import { linkQuantities } from '../common/quantities.js';
import { buildTable } from './build.js';
import { deriveTable } from './derive.js';
import { movesPeriod, outputsOf } from './own.js';
import { expectTable } from './expect.js';
import { schema, type TableAim } from './schema.js';

/** Rows of compare values, one an update, that shape a slow wave on a carrier. */
export const tableKind: AimKind<TableAim> = {
	kind: 'table',
	schema,
	fresh: {
		channel: 'ch1',
		align: 'auto',
		updates: 'auto',
		second: '',
		further: [],
		shape: 'sine',
		own: '',
		carrier: '20 kHz',
		tolerance: '0.5 %',
		base: '100 Hz',
		baseTolerance: '0.5 %',
		amplitude: '45 %',
		offset: '50 %',
		wave: 'full',
		writes: 'buffered',
		lag: '20',
		prefill: 'yes',
		legs: 'none',
		plus: '',
		minus: '',
		legsAfter: '1',
		legsDead: '2 us',
		filter: 'rc',
		resistance: '1 kOhm',
		capacitance: '1 uF',
		inductance: '10 mH'
	},
	drives: true,
	leads: true,
	feedsUpdates: true,
	updates: ({ updates }) => updates,
	movesPeriod,
	mainFigures: ['base', 'carrier'],
	timerUse: () => 'period',
	channels: (aim) => [...new Set(outputsOf(aim))],
	pins: ({ legs, plus, minus }) =>
		legs === 'none'
			? []
			: [
					{ what: 'plus', port: plus },
					{ what: 'minus', port: minus }
				],
	served: () => true,
	serves: (timer) => pulseChannels(timer).length > 0,
	channelsOn: pulseChannels,
	settle: (aim, timer, free) => ({
		...aim,
		channel: free(pulseChannels(timer)),
		second: aim.timer === timer.id ? aim.second : '',
		further: aim.timer === timer.id ? aim.further : []
	}),
	derive: deriveTable,
	build: buildTable,
	expect: expectTable,
	set: (derivation) => ({
		...linkQuantities(derivation),
		...Object.fromEntries(Object.entries(derivation.run.rows?.[0]?.compare ?? {}).map(([channel, value]) => [`compare:${channel}`, value]))
	})
};
