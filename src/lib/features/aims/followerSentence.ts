import type { TimerProfile } from '../../../core/part/index.js';
import type { JobAim, Plan } from '../../../core/plan/index.js';
import { choice, field, NAME, type Token } from '../../components/tokens.js';

const ACTIONS: [string, string][] = [
	['start', 'be started'],
	['reset', 'be reset each period'],
	['gate', 'count only while open'],
	['clock', 'count']
];

/** Who leads a follower by what, and what it does then. */
export function followerSentence(
	aim: Extract<JobAim, { kind: 'follower' }>,
	timers: Token,
	channel: Token,
	timer: TimerProfile | undefined,
	{ part, aims }: Pick<Plan, 'part' | 'aims'>
): Token[] {
	const slaved = aim.action === 'start' || aim.action === 'reset';
	const leads = aims.filter((one) => one.id !== aim.id && !['encoder', 'capture', 'width', 'oneshot', 'divided'].includes(one.kind));
	const leader = aims.find(({ id }) => id === aim.leader);
	const led = part.timers.find(({ id }) => id === leader?.timer);
	return [
		'Let',
		NAME,
		'on',
		timers,
		channel,
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

const EVENTS: Record<string, string[]> = {
	start: ['start', 'update', 'match:'],
	reset: ['update', 'match:'],
	gate: ['level:'],
	clock: ['update', 'match:']
};

/** Every event that suits the action, whether the leader's timer sends it or not: what is impossible says why. */
function eventsOf({ action }: Extract<JobAim, { kind: 'follower' }>, timer: TimerProfile | undefined): [string, string][] {
	return EVENTS[action].flatMap((event): [string, string][] =>
		event.endsWith(':')
			? (timer?.channels ?? []).map(({ id, name }) => [`${event}${id}`, `${event.slice(0, -1)} of ${name}`])
			: [[event, event]]
	);
}
