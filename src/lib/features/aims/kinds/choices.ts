import { type AnyAim, kindOf } from '../../../../core/aims/index.js';
import type { CountingMode, TimerProfile } from '../../../../core/part/index.js';
import { choice, placeText, type Token } from '../../../components/tokens.js';
import type { SentencePlan } from './view.js';

const MODES: Record<CountingMode, string> = {
	up: 'counting up',
	down: 'counting down',
	updown: 'counting up and down',
	free: 'running freely',
	preload: 'from a preload',
	tap: 'by a tapped bit',
	advance: 'advancing its compare',
	clear: 'cleared by software'
};

export function timerOf({ timer }: AnyAim, { part }: SentencePlan): TimerProfile | undefined {
	return part.timers.find(({ id }) => id === timer);
}

/** The timers of the part that can do such a job. */
export function timerChoice(aim: AnyAim, { part }: SentencePlan): Token {
	const able = part.timers.filter((timer) => kindOf(aim).serves(timer));
	return choice(
		'timer',
		'Timer',
		aim.timer,
		able.map(({ id, name }) => [id, name])
	);
}

/** The channels of the aim's timer that can do it, by their pins. */
export function channelChoice(aim: AnyAim & { channel: string }, plan: SentencePlan): Token {
	const timer = timerOf(aim, plan);
	const channels = timer ? kindOf(aim).channelsOn(timer) : [];
	return choice(
		'channel',
		'Channel',
		aim.channel,
		channels.map(({ id, name }) => [id, placeText(plan.part, timer!, id, name)])
	);
}

/** The ways of counting that the aim's timer has. */
export function modesChoice(aim: AnyAim & { mode: CountingMode }, plan: SentencePlan): Token {
	const modes = timerOf(aim, plan)?.modes ?? [];
	return choice(
		'mode',
		'Way of counting',
		aim.mode,
		modes.map((mode) => [mode, MODES[mode]])
	);
}
