import type { StretchedTrace } from '../trace/index.js';
import type { TimerStory } from '../sim/index.js';
import type { DerivedChanges, RunningSetting } from './changes.js';

/** A period of a timer, from update to update, in which a pin is on for a time that belongs to none of the settings. Times in base cycles. */
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
export function findGlitches(made: DerivedChanges, kernel: number, story: TimerStory, repeat: number, until: number): Glitch[] {
	const { channels, begin, rows } = made;
	const { updates, writes, references } = story;
	const found: Glitch[] = [];
	const settings = [begin!, ...rows];
	for (const { aim, channel, inverted } of channels) {
		const reference = references.get(channel);
		if (!reference) continue;
		const right = settings.map((setting) => cycleOf(setting, channel, kernel));
		let looked = -1;
		for (let write = 0; write < writes.count && found.length < MOST_GLITCHES; write++) {
			const time = writes.edgeTime(write);
			if (time >= until) break;
			const now = settingOf(made, write);
			const first = Math.max(looked + 1, updates.edgesBefore(time + 1) - 1);
			for (let i = first; i < first + PERIODS && i + 1 < updates.count; i++) {
				looked = i;
				const [at, end] = [i < 0 ? 0 : updates.edgeTime(i), updates.edgeTime(i + 1)];
				if (end > until) break;
				const on = activeIn(reference, inverted ? 0 : 1, at, end);
				if (right.some(([period, active]) => fits(end - at, on, period, active, repeat))) continue;
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

/** Is a stretch between two updates a whole period of the setting, half of one, or as many as updates are repeated for? */
function fits(span: number, on: number, period: number, active: number, repeat: number): boolean {
	return [1, 0.5, repeat + 1, (repeat + 1) / 2].some((times) => span === times * period && on === times * active);
}

/** Time for which a trace has a level in from..to (excluded). */
function activeIn(trace: StretchedTrace, level: 0 | 1, from: number, to: number): number {
	let edge = trace.edgesBefore(from + 1);
	let at = from;
	let sum = 0;
	while (at < to) {
		const next = edge < trace.count ? Math.min(to, trace.edgeTime(edge)) : to;
		if (trace.levelAfter(edge) === level) sum += next - at;
		at = next;
		edge++;
	}
	return sum;
}
