import {
	actionOutput,
	addChannel,
	details,
	FREE,
	levelOf,
	linkOf,
	pinLane,
	timerFor,
	type SystemBuilder,
	type Unplanned
} from '../common/build.js';
import type { AimDerivation } from '../common/derivation.js';
import { shotOutput } from './output.js';
import type { OneShotAim } from './schema.js';

/** A one-shot with what comes at its trigger (timers.md 6). */
export function buildOneShot(builder: SystemBuilder, derivation: AimDerivation<OneShotAim>): Unplanned | undefined {
	const { aim } = derivation;
	const [compare, reload] = [linkOf(derivation, 'compare'), linkOf(derivation, 'reload')];
	const channel = derivation.timer?.channels.find(({ id }) => id === aim.channel);
	const profile = derivation.timer?.inputs?.find(({ id }) => id === aim.input);
	const shot = channel && shotOutput(channel, aim.each);
	if (compare === undefined || reload === undefined || !profile || !shot) return 'not-derived';
	const output = shot.model === 'level' ? shot : actionOutput(shot);
	const timer = timerFor(builder, derivation, { ...FREE, mode: 'up', rule: derivation.timer!.rule, reload });
	if (!timer) return 'not-derived';
	timer.oneShot = true;
	timer.start = 'trigger';
	const name = `${aim.id}.trigger`;
	timer.trigger = {
		from: { input: name, edge: aim.edge },
		action: aim.retrigger === 'restart' ? 'restart' : 'start',
		latency: profile.latency
	};
	const signals = builder.signalsOf(aim);
	builder.signals.set(aim.id, signals);
	const input = signals.lines.input ?? { initial: aim.edge === 'rise' ? 0 : 1, edges: [] };
	builder.inputs[name] = input;
	addChannel(timer, { id: aim.channel, compare, output, inverted: false });
	const trace = levelOf(input, builder.base.inverse());
	builder.lanes.push({ aim: aim.id, role: 'trigger', shows: { kind: 'level', trace }, detail: false });
	builder.lanes.push(pinLane(aim.id, 'pin', `${timer.id}.${aim.channel}`));
	details(builder, aim.id, timer, aim.channel);
	return undefined;
}
