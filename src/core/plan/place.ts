import { aimKind, freshAim, kindOf, type Aim, type AimKindName } from '../aims/index.js';
import { routesTo, type PartProfile, type TimerProfile } from '../part/index.js';
import { channelsOf, countsPeriods } from './claims.js';
import type { Plan } from './document.js';

/** A fresh aim of a kind on the first timer that can do it and is free, or can do it at all; undefined where the part has none. */
export function newAim(name: AimKindName, id: string, title: string, plan: Plan): Aim | undefined {
	const kind = aimKind(name);
	const leader = kind.leader ? leaderIn(plan) : undefined;
	if (kind.leader && !leader) return undefined;
	const able = plan.part.timers.filter((timer) => kind.serves(timer) && (!leader || follows(plan.part, timer.id, leader.timer)));
	const timer =
		(kind.join ? firstOpen(able, plan, name) : firstUnused(able, plan)) ?? able[0] ?? plan.part.timers.find((one) => kind.serves(one));
	if (!timer) return undefined;
	const fresh = { ...freshAim(name, id, title, timer.id), ...takenOver(leader) };
	const first = plan.aims.find((one) => one.timer === timer.id && one.kind === name);
	return placedOn(first && kind.join ? (kind.join(fresh, first) as Aim) : fresh, timer, plan);
}

/** The first timer that no aim uses. */
function firstUnused(able: readonly TimerProfile[], plan: Plan): TimerProfile | undefined {
	return able.find((timer) => !plan.aims.some((aim) => aim.timer === timer.id));
}

/** The first timer with a channel that is free, among aims of the same kind alone. */
function firstOpen(able: readonly TimerProfile[], plan: Plan, name: AimKindName): TimerProfile | undefined {
	return able.find((timer) => {
		const others = plan.aims.filter((aim) => aim.timer === timer.id);
		const taken = new Set(others.flatMap((aim) => channelsOf(aim, plan.part)));
		return (
			others.every((aim) => aim.kind === name) &&
			aimKind(name)
				.channelsOn(timer)
				.some(({ id }) => !taken.has(id))
		);
	});
}

/** The first aim that can lead another. */
function leaderIn(plan: Plan): Aim | undefined {
	return plan.aims.find(
		(aim) => kindOf(aim).leads && countsPeriods(aim) && plan.part.timers.some((timer) => follows(plan.part, timer.id, aim.timer))
	);
}

function follows(part: PartProfile, timer: string, leader: string): boolean {
	return timer !== leader && routesTo(part, timer).some(({ from }) => from.timer === leader);
}

/** What a follower begins with of its leader. */
function takenOver(leader: Aim | undefined): object {
	if (!leader) return {};
	return { leader: leader.id, ...('duty' in leader && { duty: leader.duty }), ...('rate' in leader && { rate: leader.rate }) };
}

/** An aim on another timer, with the first free channel that can serve it there and what else that timer offers; undefined where it cannot. */
export function placedOn(aim: Aim, timer: TimerProfile, plan: Plan): Aim | undefined {
	const kind = kindOf(aim);
	if (!kind.serves(timer)) return undefined;
	const others = plan.aims.filter((one) => one.id !== aim.id && one.timer === timer.id);
	const taken = new Set(others.flatMap((one) => channelsOf(one, plan.part)));
	const settled = kind.settle(aim, timer, (channels) => (channels.find(({ id }) => !taken.has(id)) ?? channels[0])?.id ?? '');
	return settled && ({ ...settled, timer: timer.id, pins: {} } as Aim);
}
