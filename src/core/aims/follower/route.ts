import { routesTo, type InputProfile } from '../../part/index.js';
import type { DerivationDraft } from '../common/draft.js';
import type { LagWish } from '../common/fields.js';
import { pulseOn } from '../common/places.js';
import type { Leader } from './leader.js';
import type { FollowerAim } from './schema.js';

/** The way from a leader's event to the input that it reaches. */
export interface Route {
	source: string;
	input: InputProfile;
	/** The channel whose match or level it is. */
	channel?: string;
	/** The compare is for the follower to choose: no aim has the channel. */
	free: boolean;
	/** A compare that a follower on the same timer has chosen already. */
	lead?: number;
}

/** The event and the input by which a follower hears its leader; says why there is none. A timer has one trigger: the first follower on it decides. */
export function routeOf(draft: DerivationDraft, aim: FollowerAim, leader: Leader, lag: LagWish | undefined): Route | undefined {
	const { context, derivation } = draft;
	const other = context.onTimer(aim.timer).find(({ route }) => route);
	if (other) return sharedRoute(draft, aim, leader, other);
	const source = sourceOf(draft, aim, leader, lag);
	const input = source === undefined ? undefined : inputOf(draft, aim, leader, source);
	if (source === undefined || !input) return undefined;
	derivation.route = { leader: leader.aim.id, source, input: input.id, action: aim.action, latency: input.latency };
	return routeBy(draft, leader, source, input);
}

function routeBy(draft: DerivationDraft, leader: Leader, source: string, input: InputProfile): Route {
	const [kind, channel] = source.split(':');
	if (channel === undefined) return { source, input, free: false };
	const taken = draft.context.onTimer(leader.timer.id).some(({ aim }) => draft.context.channelsOf(aim).includes(channel));
	return { source, input, channel, free: kind === 'match' && !taken };
}

/** The trigger of a timer as another follower on it has it. */
function sharedRoute(
	draft: DerivationDraft,
	aim: FollowerAim,
	leader: Leader,
	{ aim: other, route }: { aim: { name: string }; route?: NonNullable<DerivationDraft['derivation']['route']> }
): Route | undefined {
	const { context, derivation } = draft;
	const same =
		context.derivationOf(route!.leader)?.aim.timer === leader.timer.id &&
		route!.action === aim.action &&
		(aim.source === 'auto' || aim.source === route!.source) &&
		(aim.input === 'auto' || aim.input === route!.input);
	const input = derivation.timer!.inputs?.find(({ id }) => id === route!.input);
	if (!same || !input) {
		draft.fault({ code: 'trigger-shared', timer: derivation.timer!.name, other: other.name });
		return undefined;
	}
	derivation.route = { ...route!, leader: leader.aim.id };
	const { lead } = route!;
	return { ...routeBy(draft, leader, route!.source, input), ...(lead !== undefined && { lead }) };
}

/** The leader's event: the one asked for, or what suits the action. A match needs a compare that no aim has. */
function sourceOf(draft: DerivationDraft, aim: FollowerAim, leader: Leader, lag: LagWish | undefined): string | undefined {
	const { claimed, channelsOf } = draft.context;
	if (aim.source !== 'auto') {
		if (aim.source.startsWith('match:')) claimed.add(`${leader.timer.id} ${aim.source.slice(6)}`);
		return aim.source;
	}
	if (aim.action === 'gate') return `level:${channelsOf(leader.aim)[0] ?? leader.timer.channels[0]?.id ?? 'none'}`;
	if (aim.action === 'clock') return 'update';
	const none = lag?.kind === 'time' ? lag.seconds.sign === 0 : lag?.kind === 'ticks' ? lag.ticks.sign === 0 : lag?.ratio.sign === 0;
	if (none) return aim.action === 'start' ? 'start' : 'update';
	const free = leader.timer.channels.find(
		({ id }) => !claimed.has(`${leader.timer.id} ${id}`) && (leader.timer.sources ?? []).includes(`match:${id}`)
	);
	if (!free) {
		draft.fault({ code: 'leader-full', leader: leader.aim.name, timer: leader.timer.name });
		return undefined;
	}
	claimed.add(`${leader.timer.id} ${free.id}`);
	return `match:${free.id}`;
}

/** The trigger input that the event reaches by the part's wiring. */
function inputOf(draft: DerivationDraft, aim: FollowerAim, leader: Leader, source: string): InputProfile | undefined {
	const { timer } = draft.derivation;
	const routes = routesTo(draft.context.part, timer!.id);
	const reached = routes.filter(({ from }) => from.timer === leader.timer.id && from.sources.includes(source)).map(({ to }) => to.input);
	const wanted = aim.input === 'auto' ? reached : reached.filter((id) => id === aim.input);
	const inputs = (timer!.inputs ?? []).filter(({ id }) => wanted.includes(id));
	const able = inputs.find(({ actions }) => actions.includes(aim.action));
	if (able) return able;
	if (inputs.length > 0) {
		draft.fault({ code: 'no-action', action: aim.action, input: inputs[0].name, timer: timer!.name });
		return undefined;
	}
	const nearest = nearestRoute(draft, aim, leader, source);
	draft.fault({
		code: 'no-route',
		event: source,
		from: leader.timer.name,
		to: timer!.name,
		input: aim.input,
		...(nearest && { nearest })
	});
	return undefined;
}

/** Another input of the timer, or another timer that can follow in the same way. */
function nearestRoute(
	{ context: { part }, derivation }: DerivationDraft,
	aim: FollowerAim,
	leader: Leader,
	source: string
): { input: string; timer: string } | undefined {
	const own = [derivation.timer!, ...part.timers.filter((one) => one !== derivation.timer && one !== leader.timer)];
	for (const timer of own) {
		const route = routesTo(part, timer.id).find(
			({ from, to }) =>
				from.timer === leader.timer.id &&
				from.sources.includes(source) &&
				timer.inputs?.some(({ id, actions }) => id === to.input && actions.includes(aim.action)) &&
				timer.channels.some((channel) => pulseOn(timer, channel))
		);
		if (route) return { input: route.to.input, timer: timer.id };
	}
	return undefined;
}
