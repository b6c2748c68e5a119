import { figureOf } from '../common/build.js';
import type { AimKind } from '../common/kind.js';
import { pulseChannels } from '../common/places.js';
import { linkQuantities } from '../common/quantities.js';
import { buildOneShot } from './build.js';
import { deriveOneShot } from './derive.js';
import { schema, type OneShotAim } from './schema.js';

/** One pulse after a trigger. */
export const oneShotKind: AimKind<OneShotAim> = {
	kind: 'oneshot',
	schema,
	fresh: {
		channel: 'ch1',
		input: 'ext',
		edge: 'rise',
		delay: '100 us',
		width: '1 ms',
		tolerance: '0.5 %',
		retrigger: 'ignore',
		bounce: ''
	},
	leads: false,
	inputs: {
		offers: ['contact', 'square', 'recorded'],
		lines: ['input'],
		rest: ({ edge }) => (edge === 'fall' ? 1 : 0),
		suggests: ({ bounce }) => (bounce.trim() === '' ? {} : { bounce })
	},
	mainFigures: ['width', 'delay'],
	timerUse: () => 'alone',
	channels: ({ channel }) => [channel],
	// A trigger may come from inside the part.
	pins: ({ input }) => [{ what: input, optional: true }],
	serves: (timer) =>
		timer.oneShot !== undefined &&
		timer.modes.includes('up') &&
		pulseChannels(timer).length > 0 &&
		(timer.inputs ?? []).some((one) => one.actions.includes('start')),
	channelsOn: pulseChannels,
	settle(aim, timer, free) {
		const inputs = timer.inputs!.filter(({ actions }) => actions.includes('start'));
		const input = inputs.find(({ id }) => id === aim.input) ?? inputs[0];
		const { retrigger } = timer.oneShot!;
		return {
			...aim,
			channel: free(pulseChannels(timer)),
			input: input.id,
			retrigger: retrigger.includes(aim.retrigger) ? aim.retrigger : retrigger[0]
		};
	},
	derive: deriveOneShot,
	build: buildOneShot,
	expect(derivation) {
		const [delay, latency, width] = ['delay', 'latency', 'width'].map((name) => figureOf(derivation, name));
		if (!delay || !latency || !width) return [];
		return [
			{ of: 'delay', line: 'pin', against: 'trigger', planned: delay.add(latency), unit: 's' },
			{ of: 'width', line: 'pin', planned: width, unit: 's' }
		];
	},
	set: (derivation) => {
		const { channel, input, retrigger } = derivation.aim;
		const set = linkQuantities(derivation, channel);
		return derivation.use ? { ...set, mode: 'up', 'one-shot': 1, trigger: input, retrigger } : set;
	}
};
