import type { PartProfile, TimerProfile } from '../../../core/part/index.js';
import { canDo, channelsFor, type JobAim, type JobKind, type Plan } from '../../../core/plan/index.js';
import { followerSentence } from './followerSentence.js';
import { choice, cyclesWord, field, filters, NAME, ordinal, overflows, pairText, placeText, served, type Token } from '../../components/tokens.js';

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
export function sentenceOf(aim: JobAim, { part, aims }: Pick<Plan, 'part' | 'aims'>): Token[] {
	const timer = part.timers.find((t) => t.id === aim.timer);
	const timers = choice(
		'timer',
		'Timer',
		aim.timer,
		able(aim.kind, part).map((t) => [t.id, t.name])
	);
	const channelOf = (kind: JobKind) =>
		choice(
			'channel',
			'Channel',
			'channel' in aim ? aim.channel : '',
			timer ? channelsFor(kind, timer).map((c) => [c.id, placeText(part, timer, c.id, c.name)]) : []
		);
	const modes = (value: string) =>
		choice(
			'mode',
			'Way of counting',
			value,
			(timer?.modes ?? []).map((mode) => [mode, MODES[mode]])
		);
	switch (aim.kind) {
		case 'tick':
			return [
				'Tick',
				NAME,
				'every',
				field('every', 'Interval or rate'),
				'±',
				field('tolerance', 'Tolerance'),
				'with',
				timers,
				modes(aim.mode),
				', noticed by',
				choice('notice', 'Noticed by', aim.notice, [
					['interrupt', 'interrupt'],
					['polling', 'polling'],
					['hardware', 'hardware alone']
				]),
				...served(),
				`${cyclesWord(aim.service)}. From reading`,
				field('from', 'First reading', 3),
				'to',
				field('to', 'Second reading', 3),
				'.'
			];
		case 'capture':
			return [
				'Measure the rate of',
				NAME,
				'on',
				timers,
				channelOf('capture'),
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
				overflows(aim.overflows),
				...served(),
				`${cyclesWord(aim.service)}; by`,
				choice('method', 'Method', aim.method, [
					['capture', 'time between edges'],
					['gated', 'edges counted'],
					['switched', 'whichever is finer']
				]),
				...(aim.method === 'capture' ? [] : ['for', field('gate', 'Gate time')]),
				', filter',
				filters(aim.filter, timer?.channels.find((c) => c.id === aim.channel)?.capture?.filters),
				'.'
			];
		case 'width':
			return [
				'Measure each',
				choice('level', 'Level', aim.level, [
					['high', 'high'],
					['low', 'low']
				]),
				'pulse of',
				NAME,
				'on',
				timers,
				channelOf('width'),
				'that lasts',
				field('shortest', 'Shortest width'),
				'to',
				field('longest', 'Longest width'),
				'within',
				field('step', 'Wished step'),
				'a count, overflows',
				overflows(aim.overflows),
				...served(),
				`${cyclesWord(aim.service)}, filter`,
				filters(aim.filter, timer?.channels.find((c) => c.id === aim.channel)?.capture?.filters),
				'; one',
				field('unit', 'Unit', 3),
				'is',
				field('each', 'Time of one unit', 3),
				'.'
			];
		case 'encoder':
			return [
				'Count',
				NAME,
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
				filters(aim.filter, timer?.encoder?.filters),
				', up to',
				field('speed', 'Greatest speed'),
				', beginning at',
				field('start', 'Count at first', 2),
				', standing for',
				field('low', 'Value of the first count', 3),
				'to',
				field('high', 'Value of the last count', 3),
				'.'
			];
		case 'toggle':
			return [
				'Toggle',
				NAME,
				'on',
				timers,
				channelOf('toggle'),
				'to make a clock of',
				field('rate', 'Rate or period'),
				'±',
				field('tolerance', 'Tolerance'),
				'.'
			];
		case 'pair':
			return [
				'Drive the pair',
				NAME,
				'on',
				timers,
				choice(
					'channel',
					'Channel',
					aim.channel,
					timer ? channelsFor('pair', timer).map((c) => [c.id, pairText(part, timer, c.id, c.name)]) : []
				),
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
				NAME,
				'on',
				channelOf('oneshot'),
				'for',
				field('width', 'Width'),
				'±',
				field('tolerance', 'Tolerance'),
				', further edges',
				choice('retrigger', 'Further edges', aim.retrigger, [
					['ignore', 'ignored'],
					['restart', 'restart it']
				]),
				'; the trigger bounces for',
				field('bounce', 'Time of bouncing', 3),
				'.'
			];
		case 'divided':
			return [
				'Count the pulses of',
				NAME,
				'out of a tick every',
				field('every', 'Interval or rate of the tick'),
				'±',
				field('tolerance', 'Tolerance'),
				'from',
				timers,
				modes(aim.mode),
				...served(),
				`${cyclesWord(aim.service)}; a pulse each every`,
				field('frame', 'Period of the pulses'),
				'±',
				field('frameTolerance', 'Tolerance of that period'),
				', counters up to',
				field('factor', 'Largest factor'),
				'.'
			];
		case 'follower':
			return followerSentence(aim, timers, channelOf('follower'), timer, { part, aims });
		case 'table':
			return tableSentence(aim, timers, channelOf('table'), part, timer);
		case 'pattern':
			return [
				'Send the words of',
				NAME,
				'at',
				field('rate', 'Words a second'),
				'±',
				field('tolerance', 'Tolerance'),
				', paced by',
				timers,
				', each',
				field('least', 'Least lag in core cycles', 2),
				'to',
				field('most', 'Greatest lag in core cycles', 2),
				`${cyclesWord(aim.most)} after its update,`,
				choice('loop', 'At the end', aim.loop, [
					['yes', 'again and again'],
					['no', 'once']
				]),
				'.'
			];
	}
}

function tableSentence(
	aim: Extract<JobAim, { kind: 'table' }>,
	timers: Token,
	channel: Token,
	part: PartProfile,
	timer: TimerProfile | undefined
): Token[] {
	const others = timer ? channelsFor('table', timer).filter(({ id }) => id !== aim.channel) : [];
	return [
		'Shape',
		NAME,
		'on',
		timers,
		channel,
		'and',
		choice('second', 'Second output', aim.second, [
			['', 'no other'],
			...others.map(({ id, name }): [string, string] => [id, placeText(part, timer!, id, name)])
		]),
		'as a',
		choice('wave', 'Halves', aim.wave, [
			['full', 'full'],
			['half', 'half']
		]),
		choice('shape', 'Shape', aim.shape, [
			['sine', 'sine'],
			['triangle', 'triangle'],
			['third-harmonic', 'sine with third harmonic'],
			['trapezoid', 'trapezoid'],
			['own', 'shape of my own']
		]),
		'of',
		field('base', 'Base rate'),
		'±',
		field('baseTolerance', 'Tolerance of the base rate'),
		'on a carrier of',
		field('carrier', 'Carrier'),
		'±',
		field('tolerance', 'Tolerance'),
		', amplitude',
		field('amplitude', 'Amplitude'),
		'about',
		field('offset', 'Offset'),
		', written',
		choice('writes', 'Writes', aim.writes, [
			['buffered', 'buffered'],
			['immediate', 'at once']
		]),
		field('lag', 'Lag of the write in core cycles', 2),
		`${cyclesWord(aim.lag)} after each update,`,
		choice('prefill', 'Before the start', aim.prefill, [
			['yes', 'filled before the start'],
			['no', 'not filled before']
		]),
		'.'
	];
}

/** What another timer of a follower does not decide. */
const KEPT = new Set(['leader', 'source', 'input']);

/** After a choice was changed: what another timer does not offer becomes the first that it does. */
export function settled(aim: JobAim, plan: Pick<Plan, 'part' | 'aims'>): JobAim {
	const lost = sentenceOf(aim, plan).find(
		(token) =>
			typeof token !== 'string' &&
			'choice' in token &&
			!(aim.kind === 'follower' && KEPT.has(token.choice)) &&
			!token.offered &&
			token.options.length > 1
	);
	if (typeof lost !== 'object' || !('choice' in lost)) return aim;
	return settled({ ...aim, [lost.choice]: lost.options[1][0] }, plan);
}

function able(kind: JobKind, part: PartProfile): TimerProfile[] {
	return part.timers.filter((timer) => canDo(kind, timer));
}
