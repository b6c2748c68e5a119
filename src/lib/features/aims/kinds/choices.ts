import { type AnyAim, kindOf, offersUpdates, type Updates } from '../../../../core/aims/index.js';
import type { CountingMode, TimerProfile } from '../../../../core/part/index.js';
import { choice, field, placeText, type Token } from '../../../components/tokens.js';
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

const COUNTS = { up: 'up, edges aligned', down: 'down, edges aligned', updown: 'up and down, centred' };
const ENDS: [Updates, string][] = [
	['bottom', 'at the bottom'],
	['top', 'at the top'],
	['both', 'at both ends']
];

/** The way of counting to a reload. */
export function alignChoice(aim: AnyAim & { align: string }, plan: SentencePlan): Token {
	const offered = (['up', 'down', 'updown'] as const).filter((mode) => timerOf(aim, plan)?.modes.includes(mode));
	return choice(
		'align',
		'Way of counting',
		aim.align,
		[['auto', 'as the timer usually does'], ...offered.map((mode): [string, string] => [mode, COUNTS[mode]])],
		`${aim.align}, not offered`
	);
}

/** Where up-down counting has its period events. */
export function updatesChoice(aim: AnyAim & { updates: string }, plan: SentencePlan): Token {
	const timer = timerOf(aim, plan);
	return choice(
		'updates',
		'Period events of up-down counting',
		aim.updates,
		[['auto', 'once a period if it can'], ...ENDS.filter(([at]) => timer && offersUpdates(timer, at))],
		`${aim.updates}, not offered`
	);
}

/** What every aim may say of its set-up: outputs, interrupt, flag and priority. */
export function setupTokens(aim: AnyAim): Token[] {
	const kind = kindOf(aim);
	const served = kind.served?.(aim) ?? false;
	const onOff: [string, string][] = [
		['on', 'enabled'],
		['off', 'left off']
	];
	const interrupt: Token[] = [
		'interrupt',
		choice('interrupt', 'Interrupt', aim.interrupt ?? 'on', onOff),
		', its flag',
		choice('flag', 'Flag of the event', aim.flag ?? 'cleared', [
			['cleared', 'cleared where it is served'],
			['kept', 'not cleared']
		]),
		', priority',
		field('priority', 'Priority that is set', 2),
		'and that of its service',
		field('handler', 'Priority that the service is written for', 2)
	];
	const output: Token[] = kind.drives ? ['output', choice('enable', 'Output', aim.enable ?? 'on', onOff)] : [];
	const all = [...output, ...(output.length > 0 && served ? [','] : []), ...(served ? interrupt : [])];
	return all.length === 0 ? [] : ['Set up with', ...all, '.'];
}

/** Is anything of the set-up said? */
export function saysSetup({ enable, interrupt, flag, priority, handler }: AnyAim): boolean {
	return (
		(enable ?? 'on') !== 'on' || (interrupt ?? 'on') !== 'on' || (flag ?? 'cleared') !== 'cleared' || Boolean(priority) || Boolean(handler)
	);
}

/** What a choice of the set-up stands at while nothing is said. */
export const SETUP_STANDS: Readonly<Record<string, string>> = { enable: 'on', interrupt: 'on', flag: 'cleared' };

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
