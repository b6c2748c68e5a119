import { feedersFirst, type PartProfile } from '../part/index.js';
import type { Aim, Plan } from './document.js';

/** Channels of its timer that an aim needs for itself. */
export function channelsOf(aim: Aim, part: PartProfile): string[] {
	switch (aim.kind) {
		case 'tick':
		case 'divided':
		case 'pattern':
			return [];
		case 'encoder': {
			const encoder = part.timers.find(({ id }) => id === aim.timer)?.encoder;
			return encoder ? [encoder.a, encoder.b] : [];
		}
		case 'table':
			return aim.second === '' || aim.second === aim.channel ? [aim.channel] : [aim.channel, aim.second];
		default:
			return [aim.channel];
	}
}

/** Every channel that an aim of the plan needs, as "timer channel". */
export function claimedChannels(plan: Plan): Set<string> {
	return new Set(plan.aims.flatMap((aim) => channelsOf(aim, plan.part).map((channel) => `${aim.timer} ${channel}`)));
}

/** How an aim uses its timer: with a reload that others may share, freely counting over the whole width, or for itself alone. */
export function useKind(aim: Aim): 'period' | 'free' | 'alone' {
	switch (aim.kind) {
		case 'encoder':
		case 'oneshot':
		case 'divided':
			return 'alone';
		case 'width':
			return 'free';
		case 'capture':
			return aim.method === 'gated' ? 'alone' : 'free';
		case 'tick':
			if (aim.mode === 'up' || aim.mode === 'down' || aim.mode === 'updown') return 'period';
			return aim.mode === 'free' || aim.mode === 'advance' ? 'free' : 'alone';
		default:
			return 'period';
	}
}

/** The aims with each leader before its followers, and followers behind all others; otherwise in the plan's order. A ring is cut where it closes: the follower says so itself. */
export function leadersFirst(aims: readonly Aim[]): Aim[] {
	const followers = aims.filter((aim) => aim.kind === 'follower');
	return [
		...aims.filter((aim) => aim.kind !== 'follower'),
		...feedersFirst(
			followers,
			({ leader }) => [leader],
			() => undefined
		)
	];
}
