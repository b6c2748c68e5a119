import type { Seconds } from '../exact/index.js';
import type { StretchedTrace } from '../trace/index.js';
import { isApart, Simulation } from './simulation.js';
import { StretchRecorder, type TimerStory } from './stretches.js';
import type { SimSource, SimSystem, SimTimer } from './system.js';

/** How many states of a group are remembered in the search for one that comes again. */
const MOST_STATES = 20_000;

/** What a system will do, ready to be looked at anywhere. */
export interface Prediction {
	/** Base cycles that every group has come to. */
	until: number;
	unit: Seconds;
	outputs: ReadonlyMap<string, StretchedTrace>;
	timers: ReadonlyMap<string, TimerStory>;
	/** Each timer's counter in the last cycle. */
	final: ReadonlyMap<string, number>;
}

/** One group of timers that trigger each other, with what it has told so far. */
class Group {
	readonly simulation: Simulation;
	readonly recorder = new StretchRecorder();
	private seen = new Map<string, { now: number; updates: number[] }>();
	private counted = 0;
	private outside = -1;
	/** When it was last looked for a state that comes again. */
	private looked = 0;

	constructor(readonly system: SimSystem) {
		this.simulation = new Simulation(system, this.recorder);
	}

	/** Goes on until cycle `until` or for so many moments; whole periods of a steady stretch are described, not counted. */
	runTo(until: number, moments: number): boolean {
		const { simulation } = this;
		for (let left = moments; left > 0; left--) {
			if (simulation.runTo(until, 1)) return true;
			const updates = simulation.updateCounts;
			const sum = updates.reduce((all, count) => all + count, 0);
			// A state can only come again where a period ends: at an update of some timer.
			if (sum === this.counted) continue;
			this.counted = sum;
			this.skip(until, updates);
		}
		return simulation.now >= until;
	}

	private skip(until: number, updates: number[]): void {
		const { simulation, seen, recorder } = this;
		const { now, outside } = simulation;
		// What came from outside meanwhile is no part of a period.
		if (outside !== this.outside) seen.clear();
		this.outside = outside;
		// Where something comes before as long a stretch as that since the last update, hardly a period fits in: the look is not worth it.
		const last = now - this.looked;
		this.looked = now;
		if (outside - now < last) return;
		if (seen.size >= MOST_STATES) return;
		const state = simulation.state();
		const before = seen.get(state);
		if (!before) {
			seen.set(state, { now, updates });
			return;
		}
		const period = now - before.now;
		const times = Math.floor((Math.min(until, outside) - now) / period);
		if (times < 1) return;
		const more = updates.map((count, i) => (count - before.updates[i]) * times);
		recorder.repeat(before.now - 1, now - 1, times);
		simulation.shift(period * times, more);
		this.counted = simulation.updateCounts.reduce((sum, count) => sum + count, 0);
		this.seen = new Map();
	}
}

/**
 * Predicts a system in pieces, so that a caller can show how far it is and stop: each group of timers that trigger one
 * another runs for itself, and a steady stretch costs no more than its description.
 */
export class Predictor {
	private readonly groups: Group[];
	private until = 0;

	constructor(
		system: SimSystem,
		private readonly unit: Seconds
	) {
		this.groups = groupsOf(system).map((group) => new Group(group));
	}

	/** Goes on; true when every group has come to `until`. */
	runTo(until: number, moments = Infinity): boolean {
		this.until = until;
		return this.groups.map((group) => group.runTo(until, moments)).every(Boolean);
	}

	/** How far the slowest group is, in base cycles. */
	get reached(): number {
		return this.groups.reduce((least, { simulation }) => Math.min(least, simulation.now), Infinity);
	}

	/** What was found so far. */
	prediction(): Prediction {
		const { unit, until } = this;
		const outputs = new Map<string, StretchedTrace>();
		const timers = new Map<string, TimerStory>();
		const final = new Map<string, number>();
		for (const { simulation, recorder, system } of this.groups) {
			simulation.names.forEach((name, i) => outputs.set(name, recorder.trace(i, unit)));
			system.timers.forEach(({ id, channels }, i) => {
				const story = recorder.story(
					i,
					channels.map((channel) => channel.id),
					unit
				);
				// Where nothing lies between the reference and the pin, the pin tells it.
				for (const channel of channels) {
					const pin = outputs.get(`${id}.${channel.id}`);
					if (pin && !isApart(channel)) story.references.set(channel.id, pin);
				}
				timers.set(id, story);
				final.set(id, simulation.valueOf(i));
			});
		}
		return { until: Math.min(until, this.reached), unit, outputs, timers, final };
	}
}

/** The system in groups of timers that hang on each other, each with the inputs and writes that are its own. */
export function groupsOf({ timers, inputs, writes }: SimSystem): SimSystem[] {
	const leader = new Map(timers.map(({ id }) => [id, id]));
	const rootOf = (id: string): string => (leader.get(id) === id ? id : rootOf(leader.get(id)!));
	const sourceOf = ({ trigger }: SimTimer): SimSource | undefined => trigger?.from;
	for (const timer of timers) {
		const from = sourceOf(timer);
		if (from && 'timer' in from) leader.set(rootOf(timer.id), rootOf(from.timer));
	}
	return [...new Set(timers.map(({ id }) => rootOf(id)))].map((root) => {
		const own = timers.filter(({ id }) => rootOf(id) === root);
		const ids = new Set(own.map(({ id }) => id));
		const heard = new Set(
			own.flatMap((timer) => {
				const from = sourceOf(timer);
				return from && 'input' in from ? [from.input] : [];
			})
		);
		return {
			timers: own,
			inputs: Object.fromEntries(Object.entries(inputs).filter(([name]) => heard.has(name))),
			writes: writes.filter(({ timer }) => ids.has(timer))
		};
	});
}
