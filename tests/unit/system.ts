import type { SimChannel, SimTimer } from '../../src/core/sim/index.js';

/** A channel that is active below its compare. */
export function plainChannel(id: string, compare: number, change: Partial<SimChannel> = {}): SimChannel {
	return { id, compare, output: { model: 'level', sense: 'below' }, inverted: false, ...change };
}

/** A buffered 16-bit timer that counts ten kernel cycles from cycle 0 on, over and over. */
export function plainTimer(id: string, change: Partial<SimTimer> = {}): SimTimer {
	return {
		id,
		kernel: 1,
		width: 16,
		prescale: 1,
		mode: 'up',
		rule: 'inclusive',
		reload: 9,
		preload: 0,
		repeat: 0,
		updateAt: 'bottom',
		oneShot: false,
		start: 0,
		buffered: { reload: true, compare: true },
		channels: [],
		...change
	};
}
