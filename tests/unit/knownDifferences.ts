import { freshAim, updatesAPeriod, type Aim } from '../../src/core/aims/index.js';
import { shippedPart, type PartProfile, type TimerProfile } from '../../src/core/part/index.js';
import { derivePlan, fernhollow, fernhollowVane, leaderOf, type Plan } from '../../src/core/plan/index.js';

/**
 * Where derivation and prediction are known to differ: a counter-example each, which fails on purpose, and the plans that
 * random tests leave alone because of it. Each goes when it is mended; the list shall be empty.
 */
export interface KnownDifference {
	what: string;
	plan: () => Plan;
	/** Plans in which it can show. */
	meets: (plan: Plan) => boolean;
}

const demo = fernhollow();
const planOf = (...aims: Aim[]): Plan => ({ ...demo, aims });
const pwm = (id: string, timer: string, change: object = {}) => freshAim('pwm', id, id, timer, { rate: '1.2 kHz', bits: '0', ...change });

/** The demo's part with one timer changed. */
function withTimer(id: string, change: Partial<TimerProfile>): PartProfile {
	const heron = shippedPart('heron-32')!;
	return { ...heron, timers: heron.timers.map((timer) => (timer.id === id ? { ...timer, ...change } : timer)) };
}

const profileOf = ({ part }: Plan, { timer }: Aim) => part.timers.find(({ id }) => id === timer);
const repeats = (aim: Aim) => 'repeat' in aim && aim.repeat.trim() !== '0';
const onOneTimer = ({ aims }: Plan, one: Aim) => aims.filter(({ timer }) => timer === one.timer);

export const KNOWN: KnownDifference[] = [
	{
		what: 'the repeat count of one aim is that of all on its timer',
		plan: () =>
			planOf(
				freshAim('pair', 'a', 'a', 'timer-a', { rate: '1 kHz', repeat: '1' }),
				freshAim('pair', 'b', 'b', 'timer-a', { channel: 'ch2', rate: '1 kHz', repeat: '0' })
			),
		meets: (plan) => plan.aims.some((aim) => repeats(aim) && onOneTimer(plan, aim).length > 1)
	},
	{
		what: 'what follows the updates of a timer with a repeat count follows fewer of them',
		plan: () =>
			planOf(
				freshAim('pair', 'a', 'a', 'timer-a', { rate: '4 kHz', repeat: '3' }),
				freshAim('follower', 'f', 'f', 'timer-d', { leader: 'a', action: 'clock', rate: '100 Hz', lag: '0' })
			),
		meets: (plan) =>
			plan.aims.some((aim) => repeats(plan.aims.find(({ id }) => id === leaderOf(aim)) ?? aim) && leaderOf(aim) !== undefined)
	},
	{
		what: 'a follower’s trigger takes hold of all that is on its timer',
		plan: () =>
			planOf(
				pwm('l', 'timer-b'),
				freshAim('pair', 'p', 'p', 'timer-a', { rate: '20 kHz' }),
				freshAim('follower', 'f', 'f', 'timer-a', { leader: 'l', channel: 'ch2', action: 'clock', rate: '20 kHz' })
			),
		meets: (plan) => plan.aims.some((aim) => leaderOf(aim) !== undefined && onOneTimer(plan, aim).length > 1)
	},
	{
		what: 'an up-down leader’s match resets its follower twice a period',
		plan: () =>
			planOf(
				pwm('l', 'timer-e', { align: 'updown', rate: '250 Hz' }),
				freshAim('follower', 'f', 'f', 'timer-h', { leader: 'l', action: 'reset', lag: '2/3' })
			),
		meets: (plan) =>
			derivePlan(plan).aims.some(({ aim }) => {
				const leader = derivePlan(plan).aims.find((one) => one.aim.id === leaderOf(aim));
				return leader?.use?.counting?.mode === 'updown';
			})
	},
	{
		what: 'words and rows of a timer that updates at both ends come twice a period',
		plan: () => ({
			...planOf(freshAim('pattern', 'p', 'p', 'timer-g', { rate: '10 kHz' })),
			part: withTimer('timer-g', { modes: ['updown'], update: ['both'] })
		}),
		meets: (plan) =>
			plan.aims.some((aim) => {
				const timer = profileOf(plan, aim);
				return timer !== undefined && ('lines' in aim || 'carrier' in aim) && updatesAPeriod(timer, 'updown') === 2;
			})
	},
	{
		what: 'a toggled pin of a down counter matches at a value that is never held',
		plan: () => ({ ...fernhollowVane(), aims: [freshAim('toggle', 't', 't', 'counter-b', { channel: 'out1', rate: '100 Hz' })] }),
		meets: (plan) =>
			plan.aims.some((aim) => aim.kind === 'toggle' && derivePlan(plan).aims.some(({ use }) => use?.counting?.mode === 'down'))
	},
	{
		what: 'a pair or shape on an output that is low while active is derived as if it were high',
		plan: () => {
			const heron = shippedPart('heron-32')!;
			const [first, ...rest] = heron.timers.find(({ id }) => id === 'timer-a')!.channels;
			const low = {
				...first,
				outputs: [{ model: 'action' as const, edge: 'leave' as const, zero: 'low' as const, matchUp: 'high' as const }]
			};
			return {
				...planOf(freshAim('pair', 'p', 'p', 'timer-a', { rate: '1 kHz', duty: '30 %' })),
				part: withTimer('timer-a', { channels: [low, ...rest] })
			};
		},
		meets: (plan) =>
			derivePlan(plan).aims.some(
				({ aim, timer }) =>
					timer?.channels.some(({ outputs }) => outputs.some((output) => output.model === 'action' && output.zero === 'low')) &&
					aim.kind !== 'pwm'
			)
	}
];
