import type { StretchedTrace } from '../trace/index.js';
import type { TimerStory } from '../sim/index.js';
import type { DerivedChanges, RunningSetting } from './changes.js';

/** A period of a timer in which a pin is on for a time that belongs to none of the settings. Times in base cycles. */
export interface Glitch {
	aim: string;
	channel: string;
	/** The row that was written last when the period began, or in it. */
	row: string;
	at: number;
	period: number;
	on: number;
	/** Period and on-time as they are set before and after the row. */
	before: [number, number];
	after: [number, number];
}

/** Periods after a write that are looked at: all that it can disturb begins within them. */
const PERIODS = 4;
export const MOST_GLITCHES = 200;

/** The periods around each write, held against all settings; at most MOST_GLITCHES. */
export function findGlitches(made: DerivedChanges, kernel: number, story: TimerStory, until: number): Glitch[] {
	const { channels, begin, rows } = made;
	const { writes, references } = story;
	const ends = new Ends(story);
	const found: Glitch[] = [];
	const settings = [begin!, ...rows];
	for (const { aim, channel } of channels) {
		const reference = references.get(channel);
		if (!reference) continue;
		const right = settings.map((setting) => cycleOf(setting, channel, kernel));
		let looked = -1;
		for (let write = 0; write < writes.count && found.length < MOST_GLITCHES; write++) {
			const time = writes.edgeTime(write);
			if (time >= until) break;
			const now = settingOf(made, write);
			const first = Math.max(looked + 1, ends.before(time + 1) - 1);
			for (let i = first; i < first + PERIODS && i + 1 < ends.count; i++) {
				looked = i;
				const [at, end] = [i < 0 ? 0 : ends.time(i), ends.time(i + 1)];
				if (end > until) break;
				const on = activeIn(reference, at, end);
				if (right.some(([period, active]) => fits(end - at, on, period, active))) continue;
				found.push({
					aim: aim.id,
					channel,
					row: rows[Math.max(0, now - 1)].row.id,
					at,
					period: end - at,
					on,
					before: right[(now + right.length - 1) % right.length],
					after: right[now]
				});
			}
		}
	}
	return found.sort((a, b) => a.at - b.at).slice(0, MOST_GLITCHES);
}

/** Ends of periods in order of time: updates, and those between them that a repeat count leaves out. */
class Ends {
	constructor(private readonly story: Pick<TimerStory, 'updates' | 'skipped'>) {}

	get count(): number {
		return this.story.updates.count + this.story.skipped.count;
	}

	/** How many lie before a time. */
	before(time: number): number {
		return this.story.updates.edgesBefore(time) + this.story.skipped.edgesBefore(time);
	}

	/** When the one of that number is: there are `updates` of the first kind before it, found by halving. */
	time(index: number): number {
		const { updates, skipped } = this.story;
		let [low, high] = [Math.max(0, index - skipped.count), Math.min(index, updates.count)];
		while (low < high) {
			const middle = (low + high) >> 1;
			if (updates.edgeTime(middle) < skipped.edgeTime(index - middle - 1)) low = middle + 1;
			else high = middle;
		}
		const [one, other] = [
			low < updates.count ? updates.edgeTime(low) : Infinity,
			index - low < skipped.count ? skipped.edgeTime(index - low) : Infinity
		];
		return Math.min(one, other);
	}
}

/** Period and on-time of a setting, in base cycles. */
function cycleOf({ ticks, prescale, active }: RunningSetting, channel: string, kernel: number): [number, number] {
	return [ticks * prescale * kernel, active[channel] * prescale * kernel];
}

/** Which setting a moment of writing belongs to: 1 is the first row's, 0 the plan's own, which rows that loop come back to. */
function settingOf({ list, rows, apart, begin, channels }: DerivedChanges, write: number): number {
	const moments = (count: number) => (apart === 0 ? 1 : Math.max(1, count));
	const sizes = rows.map(({ writes: { compare, reload, prescale } }) =>
		moments(Object.keys(compare).length + (reload === undefined ? 0 : 1) + (prescale === undefined ? 0 : 1))
	);
	const loops = list.pace === 'updates' && list.loop === 'yes';
	const home = loops && begin ? moments(channels.length + 2) : 0;
	const whole = sizes.reduce((sum, size) => sum + size, home);
	let left = loops ? write % whole : write;
	const at = sizes.findIndex((size) => (left -= size) < 0);
	return at >= 0 ? at + 1 : loops ? 0 : rows.length;
}

/** Is a stretch from one end of a period to the next a whole one of the setting, or half of one where both ends update? */
function fits(span: number, on: number, period: number, active: number): boolean {
	return [1, 0.5].some((times) => span === times * period && on === times * active);
}

/** Time for which a trace is high in from..to (excluded). */
function activeIn(trace: StretchedTrace, from: number, to: number): number {
	let edge = trace.edgesBefore(from + 1);
	let at = from;
	let sum = 0;
	while (at < to) {
		const next = edge < trace.count ? Math.min(to, trace.edgeTime(edge)) : to;
		if (trace.levelAfter(edge) === 1) sum += next - at;
		at = next;
		edge++;
	}
	return sum;
}
