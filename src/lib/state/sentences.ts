import { pinsOf, type PartProfile, type TimerProfile } from '../../core/part/index.js';
import { canDo, pairChannels, pulseChannels, toggleChannels, type JobAim, type JobKind } from '../../core/plan/index.js';

/** A piece of an aim's sentence: plain words, a typed field, or a choice. */
export type Token =
	| string
	| { field: string; label: string; least?: number }
	| {
			choice: string;
			label: string;
			options: [string, string][];
			/** False: what is set is not offered, and stands first. */ offered: boolean;
	  };

const MODES: Record<TimerProfile['modes'][number], string> = {
	up: 'counting up',
	down: 'counting down',
	updown: 'counting up and down',
	free: 'running freely',
	preload: 'from a preload',
	tap: 'by a tapped bit',
	advance: 'advancing its compare',
	clear: 'cleared by software'
};

/** The sentence that says an aim, with its fields and choices in their places. */
export function sentenceOf(aim: JobAim, part: PartProfile): Token[] {
	const timer = part.timers.find((t) => t.id === aim.timer);
	const timers = choice(
		'timer',
		'Timer',
		aim.timer,
		able(aim.kind, part).map((t) => [t.id, t.name])
	);
	switch (aim.kind) {
		case 'tick':
			return [
				'Tick',
				field('name', 'Name of the aim', 8),
				'every',
				field('every', 'Interval or rate'),
				'±',
				field('tolerance', 'Tolerance'),
				'with',
				timers,
				choice(
					'mode',
					'Way of counting',
					aim.mode,
					(timer?.modes ?? []).map((mode) => [mode, MODES[mode]])
				),
				', noticed by',
				choice('notice', 'Noticed by', aim.notice, [
					['interrupt', 'interrupt'],
					['polling', 'polling'],
					['hardware', 'hardware alone']
				]),
				', served in',
				field('service', 'Service time in core cycles'),
				'core cycles.'
			];
		case 'capture':
			return [
				'Measure the rate of',
				field('name', 'Name of the aim', 8),
				'on',
				timers,
				choice(
					'channel',
					'Channel',
					aim.channel,
					(timer?.channels ?? []).filter((c) => c.capture).map((c) => [c.id, placeText(part, timer!, c.id, c.name)])
				),
				'from',
				field('lowest', 'Lowest rate'),
				'to',
				field('highest', 'Highest rate'),
				'within',
				field('step', 'Wished step'),
				'a count, every',
				choice('every', 'Every so manieth edge', aim.every, [
					['auto', 'fitting'],
					...(timer?.channels.find((c) => c.id === aim.channel)?.capture?.every ?? []).map((k): [string, string] => [String(k), ordinal(k)])
				]),
				'edge, overflows',
				choice('overflows', 'Overflows', aim.overflows, [
					['not-counted', 'not counted'],
					['counted', 'counted']
				]),
				', served in',
				field('service', 'Service time in core cycles'),
				'core cycles.'
			];
		case 'encoder':
			return [
				'Count',
				field('name', 'Name of the aim', 8),
				'with',
				timers,
				',',
				field('cycles', 'Cycles a turn'),
				'cycles a turn, each edge of',
				choice(
					'times',
					'Edges counted',
					aim.times,
					(timer?.encoder?.times ?? [4]).map((t) => [String(t), t === 4 ? 'A and B (× 4)' : t === 2 ? 'A (× 2)' : 'A, B low (× 1)'])
				),
				'over',
				field('range', 'Range'),
				', ends',
				choice('ends', 'Ends of the range', aim.ends, [
					['wrap', 'wrap'],
					['clamp', 'clamp']
				]),
				', filter',
				choice('filter', 'Input filter', aim.filter, [
					['none', 'none'],
					...(timer?.encoder?.filters ?? []).map(({ samples, divide }, i): [string, string] => [
						String(i),
						`${samples} samples, one each ${divide}`
					])
				]),
				', up to',
				field('speed', 'Greatest speed'),
				'.'
			];
		case 'toggle':
			return [
				'Toggle',
				field('name', 'Name of the aim', 8),
				'on',
				timers,
				choice(
					'channel',
					'Channel',
					aim.channel,
					timer ? toggleChannels(timer).map((c) => [c.id, placeText(part, timer, c.id, c.name)]) : []
				),
				'to make a clock of',
				field('rate', 'Rate or period'),
				'±',
				field('tolerance', 'Tolerance'),
				'.'
			];
		case 'pair':
			return [
				'Drive the pair',
				field('name', 'Name of the aim', 8),
				'on',
				timers,
				choice('channel', 'Channel', aim.channel, timer ? pairChannels(timer).map((c) => [c.id, pairText(part, timer, c.id, c.name)]) : []),
				'at',
				field('rate', 'Rate or period'),
				'±',
				field('tolerance', 'Tolerance'),
				', duty',
				field('duty', 'Duty'),
				', dead time',
				field('dead', 'Dead time'),
				', skipping',
				field('repeat', 'Repeat count', 2),
				'periods between updates.'
			];
		case 'oneshot':
			return [
				'On a',
				choice('edge', 'Edge', aim.edge, [
					['rise', 'rise'],
					['fall', 'fall']
				]),
				'of',
				timers,
				choice(
					'input',
					'Trigger input',
					aim.input,
					(timer?.inputs ?? []).filter((i) => i.actions.includes('start')).map((i) => [i.id, placeText(part, timer!, i.id, i.name)])
				),
				'wait',
				field('delay', 'Delay'),
				', then pulse',
				field('name', 'Name of the aim', 8),
				'on',
				choice(
					'channel',
					'Channel',
					aim.channel,
					timer ? pulseChannels(timer).map((c) => [c.id, placeText(part, timer, c.id, c.name)]) : []
				),
				'for',
				field('width', 'Width'),
				'±',
				field('tolerance', 'Tolerance'),
				', further edges',
				choice('retrigger', 'Further edges', aim.retrigger, [
					['ignore', 'ignored'],
					['restart', 'restart it']
				]),
				'.'
			];
	}
}

/** After a choice was changed: what another timer does not offer becomes the first that it does. */
export function settled(aim: JobAim, part: PartProfile): JobAim {
	const lost = sentenceOf(aim, part).find(
		(token) => typeof token !== 'string' && 'choice' in token && !token.offered && token.options.length > 1
	);
	if (typeof lost !== 'object' || !('choice' in lost)) return aim;
	return settled({ ...aim, [lost.choice]: lost.options[1][0] }, part);
}

function able(kind: JobKind, part: PartProfile): TimerProfile[] {
	return part.timers.filter((timer) => canDo(kind, timer));
}

function placeText(part: PartProfile, timer: TimerProfile, id: string, name: string): string {
	const pins = pinsOf(part, `${timer.id}.${id}`).map((pin) => pin.name);
	return pins.length > 0 ? `${pins.join(' or ')} (${name})` : name;
}

function pairText(part: PartProfile, timer: TimerProfile, id: string, name: string): string {
	const pins = (side: string) =>
		pinsOf(part, `${timer.id}.${id}${side}`)
			.map((pin) => pin.name)
			.join(' or ') || 'no pin';
	return `${pins('')} and ${pins('.n')} (${name})`;
}

function ordinal(k: number): string {
	return k === 1 ? 'single' : `${k}th`.replace('2th', '2nd');
}

function field(name: string, label: string, least?: number): Token {
	return { field: name, label, ...(least !== undefined && { least }) };
}

/** A choice keeps what is set, even if it is not offered any more. */
function choice(name: string, label: string, value: string, options: [string, string][]): Token {
	const offered = options.some(([one]) => one === value);
	return { choice: name, label, options: offered ? options : [[value, value || 'choose'], ...options], offered };
}
