import type { SimChannel, SimTimer } from '../../sim/index.js';
import type { Group } from '../scene.js';

/** Channels of a group that drive a pin. */
export function driving({ system }: Group): { timer: SimTimer; channel: SimChannel }[] {
	return system.timers.flatMap((timer) =>
		timer.channels.filter(({ output }) => output.model !== 'none').map((channel) => ({ timer, channel }))
	);
}

export function choice(timer: SimTimer, channel: SimChannel | undefined, what: string, planned: string, found: string) {
	return { timer: timer.id, ...(channel && { channel: channel.id }), what, planned, found };
}
