import { type AimOf, type AnyAim, kindOf } from '../../../../../core/aims/index.js';
import { countsPeriods } from '../../../../../core/plan/index.js';
import type { TimerProfile } from '../../../../../core/part/index.js';
import { choice, field, NAME, type Token } from '../../../../components/tokens.js';
import { channelChoice, timerChoice, timerOf } from '../choices.js';
import type { AimView, SentencePlan } from '../view.js';
import { words } from './words.js';

export const followerView: AimView<AimOf<'follower'>> = {
	...words,
	sketch: 'M0 13V4H16V13H60V4H76V13H120V4H132M0 28H20V19H36V28H80V19H96V28H132',
	example: 'follow 120 deg',
	wish: ({ lag, duty }) => `${lag} behind, ${duty}`,
	sentence,
	keeps: ['leader', 'source', 'input']
};

const ACTIONS: [string, string][] = [
	['start', 'be started'],
	['reset', 'be reset each period'],
	['gate', 'count only while open'],
	['clock', 'count']
];

/** Who leads a follower by what, and what it does then. */
function sentence(aim: AimOf<'follower'>, plan: SentencePlan): Token[] {
	const { part, aims } = plan;
	const timer = timerOf(aim, plan);
	const slaved = aim.action === 'start' || aim.action === 'reset';
	const leads = aims.filter((one) => one.id !== aim.id && canBeFollowed(one));
	const leader = aims.find(({ id }) => id === aim.leader);
	const led = part.timers.find(({ id }) => id === leader?.timer);
	return [
		'Let',
		NAME,
		'on',
		timerChoice(aim, plan),
		channelChoice(aim, plan),
		choice('action', 'Action', aim.action, ACTIONS),
		aim.action === 'gate' ? 'by' : aim.action === 'clock' ? 'the periods of' : 'by',
		choice(
			'leader',
			'Leader',
			aim.leader,
			leads.map(({ id, name }) => [id, name || 'unnamed aim'])
		),
		'(',
		choice('source', 'Event of the leader', aim.source, [['auto', 'fitting event'], ...eventsOf(aim, led)]),
		'to',
		choice('input', 'Trigger input', aim.input, [
			['auto', 'fitting input'],
			...(timer?.inputs ?? []).map(({ id, name }): [string, string] => [id, name])
		]),
		')',
		...(slaved
			? [', lagging', field('lag', 'Lag'), '±', field('lagTolerance', 'Tolerance of the lag')]
			: [', at', field('rate', 'Rate or period'), '±', field('tolerance', 'Tolerance')]),
		', duty',
		field('duty', 'Duty'),
		'.'
	];
}

/** A tick leads by its interrupts as well as others by their periods. */
function canBeFollowed(aim: AnyAim): boolean {
	return kindOf(aim).leads || countsPeriods(aim);
}

const EVENTS: Record<string, string[]> = {
	start: ['start', 'update', 'match:'],
	reset: ['update', 'match:'],
	gate: ['level:'],
	clock: ['update', 'match:']
};

/** Every event that suits the action, whether the leader's timer sends it or not: what is impossible says why. */
function eventsOf({ action }: AimOf<'follower'>, timer: TimerProfile | undefined): [string, string][] {
	return EVENTS[action].flatMap((event): [string, string][] =>
		event.endsWith(':')
			? (timer?.channels ?? []).map(({ id, name }) => [`${event}${id}`, `${event.slice(0, -1)} of ${name}`])
			: [[event, event]]
	);
}
