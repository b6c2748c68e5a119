import { COMPARE, EVENT_MATCH, type Host } from './host.js';
import type { SimAction, SimLevel, SimOutput, SimTimer } from './system.js';

/** A channel's reference and pins (timers.md 5). */
interface Channel {
	model: SimOutput['model'];
	/** Active below the compare, in the level model. */
	below: boolean;
	leaves: boolean;
	zero: SimAction;
	top: SimAction;
	matchUp: SimAction;
	matchDown: SimAction;
	reference: SimLevel;
	/** The reference as it was last told. */
	shown: SimLevel;
	/** Does anything hang on its compare? */
	matters: boolean;
	heard: boolean;
	inverted: SimLevel;
	/** The first output; -1: none. A pair has the next one too. */
	output: number;
	/** Dead time in base cycles; -1: no pair. */
	dead: number;
	/** When the reference took its level, or the history began. */
	since: number;
	main: SimLevel;
	other: SimLevel;
}

/** All channels of one timer. */
export class Outputs {
	readonly channels: Channel[];
	/** Does any channel act at the top, or at zero? */
	readonly matters: { top: boolean; zero: boolean };
	/** The next base cycle at which a dead time ends. */
	dueAt = Infinity;
	private begun = false;

	constructor(
		timer: SimTimer,
		private readonly index: number,
		private readonly host: Host,
		first: number
	) {
		let next = first;
		this.channels = timer.channels.map(({ output, dead, inverted }): Channel => {
			const acts = output.model === 'action' ? output : undefined;
			const own = output.model === 'none' ? -1 : next;
			if (output.model !== 'none') next += dead === undefined ? 1 : 2;
			return {
				model: output.model,
				below: output.model === 'level' && output.sense === 'below',
				leaves: acts?.edge === 'leave',
				zero: acts?.zero ?? 'none',
				top: acts?.top ?? 'none',
				matchUp: acts?.matchUp ?? 'none',
				matchDown: acts?.matchDown ?? 'none',
				reference: acts?.initial ?? 0,
				shown: acts?.initial ?? 0,
				matters: output.model !== 'none',
				heard: false,
				inverted: inverted ? 1 : 0,
				output: own,
				dead: output.model === 'none' || dead === undefined ? -1 : dead * timer.kernel,
				since: 0,
				main: 0,
				other: 0
			};
		});
		const acting = (event: 'zero' | 'top') => this.channels.some((channel) => channel[event] !== 'none');
		this.matters = { top: acting('top'), zero: acting('zero') };
		// Levels at rest: inactive where there is a dead time.
		this.channels.forEach((channel, i) => {
			host.reference(index, i, -1, channel.reference);
			if (channel.output >= 0) this.show(channel, -1);
		});
	}

	/** Somebody listens to the channel's match. */
	hear(channel: number): void {
		this.channels[channel].heard = true;
		this.channels[channel].matters = true;
	}

	/** The timer starts for the first time: dead times have a history from here on. */
	begin(time: number): void {
		if (this.begun) return;
		this.begun = true;
		for (const channel of this.channels) channel.since = time;
	}

	leave(n: number, up: boolean, registers: Float64Array, time: number): void {
		const { channels } = this;
		for (let i = 0; i < channels.length; i++) {
			const channel = channels[i];
			if (channel.leaves && n === registers[COMPARE + i]) this.match(channel, i, up, time);
		}
	}

	/** The events of a value just taken: zero, top, then the matches. */
	enter(n: number, up: boolean, top: boolean, registers: Float64Array, time: number): void {
		const { channels } = this;
		for (let i = 0; i < channels.length; i++) {
			const channel = channels[i];
			if (n === 0) act(channel, channel.zero);
			if (top) act(channel, channel.top);
			if (!channel.leaves && n === registers[COMPARE + i]) this.match(channel, i, up, time);
		}
	}

	/** Level outputs follow the counter; then dead time and polarity. */
	follow(n: number, up: boolean, registers: Float64Array, time: number): void {
		const { channels } = this;
		this.dueAt = Infinity;
		for (let i = 0; i < channels.length; i++) {
			const channel = channels[i];
			const before = channel.shown;
			if (channel.model === 'level') {
				const compare = registers[COMPARE + i];
				channel.reference = (up ? n < compare : n <= compare) === channel.below ? 1 : 0;
			}
			if (channel.reference !== before) {
				channel.shown = channel.reference;
				if (this.begun) channel.since = time;
				this.host.reference(this.index, i, time, channel.reference);
			}
			if (channel.output >= 0) this.show(channel, time);
		}
	}

	state(time: number): string {
		return this.channels
			.map(
				(channel) =>
					`${channel.reference}${channel.main}${channel.other}${channel.dead > 0 ? Math.min(channel.dead, time - channel.since) : ''}`
			)
			.join();
	}

	shift(by: number): void {
		this.dueAt += by;
		for (const channel of this.channels) channel.since += by;
	}

	private match(channel: Channel, i: number, up: boolean, time: number): void {
		act(channel, up ? channel.matchUp : channel.matchDown);
		this.host.matched(this.index, i, time);
		if (channel.heard) this.host.raise(this.index, EVENT_MATCH + i, time);
	}

	private show(channel: Channel, time: number): void {
		const { output, dead, reference, inverted } = channel;
		if (dead < 0) {
			this.host.pin(output, time, (reference ^ inverted) as SimLevel);
			return;
		}
		const due = this.begun && time >= channel.since + dead;
		channel.main = due && reference === 1 ? 1 : 0;
		channel.other = due && reference === 0 ? 1 : 0;
		if (this.begun && !due) this.dueAt = Math.min(this.dueAt, channel.since + dead);
		this.host.pin(output, time, (channel.main ^ inverted) as SimLevel);
		this.host.pin(output + 1, time, (channel.other ^ inverted) as SimLevel);
	}
}

function act(channel: Channel, action: SimAction): void {
	if (action === 'none') return;
	channel.reference = action === 'toggle' ? (channel.reference === 1 ? 0 : 1) : action === 'high' ? 1 : 0;
}
