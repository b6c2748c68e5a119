import { largest } from '../../timer/index.js';
import { figureOf, linkOf } from '../common/build.js';
import { wishedAs, type PlannedQuantity } from '../common/expect.js';
import type { AimKind } from '../common/kind.js';
import { linkQuantities } from '../common/quantities.js';
import { turnedTime } from '../common/turned.js';
import { buildOneShot } from './build.js';
import { deriveOneShot } from './derive.js';
import { shotOutput, SHOTS, ticksBehind } from './output.js';
import { schema, type OneShotAim } from './schema.js';

/** One pulse after a trigger. */
export const oneShotKind: AimKind<OneShotAim> = {
	kind: 'oneshot',
	schema,
	fresh: {
		channel: 'ch1',
		each: 'pulse',
		input: 'ext',
		edge: 'rise',
		delay: '100 us',
		width: '1 ms',
		tolerance: '0.5 %',
		retrigger: 'ignore',
		bounce: ''
	},
	drives: true,
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
		timer.channels.some((channel) => shotOutput(channel, 'pulse')) &&
		(timer.inputs ?? []).some((one) => one.actions.includes('start')),
	channelsOn: (timer) => timer.channels.filter((channel) => SHOTS.some((each) => shotOutput(channel, each))),
	settle(aim, timer, free) {
		const inputs = timer.inputs!.filter(({ actions }) => actions.includes('start'));
		const input = inputs.find(({ id }) => id === aim.input) ?? inputs[0];
		const { retrigger } = timer.oneShot!;
		return {
			...aim,
			channel: free(timer.channels.filter((channel) => shotOutput(channel, aim.each))),
			input: input.id,
			retrigger: retrigger.includes(aim.retrigger) ? aim.retrigger : retrigger[0]
		};
	},
	derive: deriveOneShot,
	build: buildOneShot,
	expect(derivation) {
		const [delay, latency, width] = ['delay', 'latency', 'width'].map((name) => figureOf(derivation, name));
		if (!delay || !latency) return [];
		const after: PlannedQuantity = {
			of: 'delay',
			line: 'pin',
			against: 'trigger',
			planned: delay.add(latency),
			unit: 's',
			...wishedAs(derivation.wishes?.delay)
		};
		// A toggled pin has no width of its own: the next shot ends it.
		return width ? [after, { of: 'width', line: 'pin', planned: width, unit: 's', ...wishedAs(derivation.wishes?.width) }] : [after];
	},
	turned(derivation) {
		const { timer, aim } = derivation;
		const [compare, reload] = [linkOf(derivation, 'compare'), linkOf(derivation, 'reload')];
		const output = timer?.channels.find(({ id }) => id === aim.channel);
		const shot = output && shotOutput(output, aim.each);
		if (!timer || compare === undefined || reload === undefined || !shot) return [];
		const { width } = timer;
		const behind = ticksBehind(shot);
		const ticks = compare + behind;
		const less = timer.rule === 'inclusive' ? 1 : 0;
		// Each with the other as it is set.
		return [
			turnedTime(derivation, 'delay', 'compare', { offset: -behind, least: 1, most: reload + less - 1, width }),
			turnedTime(derivation, 'width', 'reload', { offset: ticks - less, least: 1, most: largest(width) + less - ticks, width })
		];
	},
	set: (derivation) => {
		const { channel, input, edge, retrigger } = derivation.aim;
		const set = linkQuantities(derivation, channel);
		return derivation.use
			? {
					...set,
					mode: 'up',
					'one-shot': 1,
					trigger: input,
					[`edge:${input}`]: edge,
					action: retrigger === 'restart' ? 'restart' : 'start',
					retrigger
				}
			: set;
	}
};
