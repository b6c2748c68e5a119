import type { ChannelProfile, TimerProfile } from '../../part/index.js';
import type { AimKind } from '../common/kind.js';
import { buildListening } from '../common/listen.js';
import { captureQuantities, linkQuantities } from '../common/quantities.js';
import { readRates } from './readings.js';
import { deriveCapture } from './derive.js';
import { listenCapture } from './listen.js';
import { schema, type CaptureAim } from './schema.js';

/** A frequency measured by the time between edges, by counting edges for a gate time, or by whichever is finer. */
export const captureKind: AimKind<CaptureAim> = {
	kind: 'capture',
	schema,
	fresh: {
		channel: 'ch1',
		lowest: '10 Hz',
		highest: '1 kHz',
		step: '1 %',
		every: 'auto',
		overflows: 'not-counted',
		service: '60',
		filter: 'none',
		method: 'capture',
		gate: '100 ms'
	},
	leads: false,
	inputs: {
		offers: ['sweep', 'square', 'contact', 'recorded'],
		lines: ['input'],
		rest: () => 0,
		suggests: ({ lowest, highest }) => ({ rate: highest, from: lowest, to: highest })
	},
	mainFigures: ['lowest', 'step-high'],
	software: ({ method, channel, overflows }) => {
		if (method === 'switched') return { does: 'hangs' };
		return method === 'gated' ? { does: 'gates' } : { does: 'spans', channel, laps: overflows === 'counted' };
	},
	served: () => true,
	timerUse: ({ method }) => (method === 'gated' ? 'alone' : 'free'),
	channels: ({ channel }) => [channel],
	serves: (timer) => channelsOn(timer).length > 0,
	channelsOn: channelsOn,
	settle: (aim, timer, free) => ({ ...aim, channel: free(channelsOn(timer)) }),
	derive: deriveCapture,
	build: (builder, derivation) => buildListening(builder, derivation, listenCapture),
	relations: readRates,
	expect: () => [],
	set: (derivation) =>
		derivation.use ? captureQuantities(derivation, derivation.aim, 'rise') : linkQuantities(derivation, derivation.aim.channel)
};

function channelsOn(timer: TimerProfile): ChannelProfile[] {
	return timer.channels.filter((channel) => channel.capture !== undefined);
}
