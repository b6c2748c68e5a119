import { feedersFirst } from '../part/index.js';
import { COMPARE, EVENT_MATCH, EVENT_START, EVENT_UPDATE, PRESCALE, RELOAD, REPEAT, type Host } from './host.js';
import { Machine } from './machine.js';
import type { SimSink } from './recorder.js';
import { lagAt, lagPlace } from './lag.js';
import type { SimChannel, SimLevel, SimPattern, SimSequence, SimSource, SimSystem, SimTimer } from './system.js';

/** Who hears a timer's event, and how a level is looked at. */
interface Listener {
	machine: Machine;
	/** Base cycles from being seen to acting. */
	delay: number;
}

interface LevelListener extends Listener {
	/** The channel of a timer; -1: an input. */
	channel: number;
	edge: 'rise' | 'fall' | 'both';
	gate: boolean;
	/** The last sample. */
	sample: SimLevel;
	/** The next kernel cycle at which a sample may differ. */
	sampleAt: number;
	/** Gate changes to come. */
	changes: { at: number; open: boolean }[];
	level: () => SimLevel;
}

/** What goes on with each update of a timer, by its number from 1 on. */
type Feed = (update: number, time: number) => void;

/** A write to come: of software, a sequence's row, or a pattern's word. */
interface Scheduled {
	at: number;
	/** Which row or word of which timer. */
	what: string;
	run: (time: number) => void;
}

/**
 * Runs a system of timers event by event, exact to the base cycle (timers.md 3 to 9). It is deterministic, can be stopped
 * after any number of events, and goes on from where it stood.
 */
export class Simulation implements Host {
	/** Names of the outputs: "timer.channel", "timer.channel.n" of a pair, "timer.pN" of a pattern, "timer.sN" of legs. */
	readonly names: string[] = [];
	/** The cycle before which everything has happened. */
	now = 0;
	private readonly machines: Machine[] = [];
	/** In an order in which what acts at once comes after what it hears. */
	private order: Machine[] = [];
	private readonly listeners: Listener[][][];
	private readonly levels: LevelListener[][];
	private readonly inputLevels: LevelListener[][];
	/** Every machine that looks at a level, and each by its machine. */
	private readonly levelListeners: LevelListener[] = [];
	private readonly own: (LevelListener | undefined)[] = [];
	private readonly inputs: { level: SimLevel; edges: ArrayLike<number>; next: number }[];
	private scheduled: Scheduled[] = [];
	private readonly pinLevels: number[] = [];
	private nextWrite = 0;
	private ready = false;

	constructor(
		readonly system: SimSystem,
		private readonly sink: SimSink
	) {
		const { timers, inputs } = system;
		const firsts = timers.map((timer, i) => {
			const first = this.names.length;
			this.names.push(...namesOf(timer));
			this.machines.push(new Machine(timer, i, this, first));
			return first;
		});
		this.inputs = Object.values(inputs).map(({ initial, edges }) => ({ level: initial, edges, next: 0 }));
		this.listeners = timers.map(({ channels }) => Array.from({ length: EVENT_MATCH + channels.length }, () => []));
		this.levels = timers.map(() => []);
		this.inputLevels = this.inputs.map(() => []);
		// A sequence's row 0 stands from the beginning: levels at rest are those with it.
		this.machines.forEach((machine, i) => this.feed(machine, firsts[i]));
		for (const { index, registers } of this.machines) registers.forEach((value, register) => sink.register?.(index, 0, register, value));
		for (const machine of this.machines) this.listen(machine);
		this.order = this.inOrder();
		this.ready = true;
	}

	/** Goes on until cycle `until`, or for so many moments; true when it got there. */
	runTo(until: number, moments = Infinity): boolean {
		for (let left = moments; ; left--) {
			const time = this.nextTime();
			if (time >= until) {
				this.now = until;
				return true;
			}
			if (left <= 0) return false;
			this.moment(time);
		}
	}

	/** The next base cycle at which something comes from outside: an input's edge or a write. */
	get outside(): number {
		const { writes } = this.system;
		const write = this.nextWrite < writes.length ? writes[this.nextWrite].at : Infinity;
		return this.inputs.reduce((next, { edges, next: at }) => (at < edges.length ? Math.min(next, edges[at]) : next), write);
	}

	/** Everything that its future hangs on but what comes from outside, as text, seen from `now`: equal texts, equal futures. */
	state(): string {
		const { now } = this;
		const align = this.machines.map(({ timer }) => now % timer.kernel).join();
		const machines = this.machines.map((machine) => machine.state(now)).join(';');
		const feeds = this.machines.map(
			({ timer: { sequences = [], pattern, legs }, updates }) =>
				`${sequences.map((one) => placeInRows(one, updates)).join()} ${placeIn(pattern?.words.length, pattern?.loop, updates)} ${placeIn(legs?.words.length, legs?.loop, updates)} ${lagPlace(updates, pattern?.lag, legs?.lag, ...sequences.map(({ lag }) => lag))}`
		);
		const levels = this.levelListeners.map(
			({ sample, sampleAt, changes }) => `${sample} ${sampleAt - now} ${changes.map(({ at, open }) => `${at - now}${open}`).join()}`
		);
		const inputs = this.inputs.map(({ level }) => level).join();
		return [
			this.pinLevels.join(''),
			align,
			machines,
			feeds.join(';'),
			levels.join(';'),
			inputs,
			this.scheduled.map(({ at, what }) => `${at - now} ${what}`).join()
		].join('|');
	}

	/** Carries everything on by so many base cycles in which nothing new happens; `updates`: how many each timer has in them. */
	shift(by: number, updates: readonly number[]): void {
		this.now += by;
		this.machines.forEach((machine, i) => {
			machine.shift(by);
			machine.updates += updates[i];
		});
		for (const listener of this.levelListeners) {
			listener.sampleAt += by;
			for (const change of listener.changes) change.at += by;
		}
		for (const entry of this.scheduled) entry.at += by;
	}

	/** Updates of each timer so far. */
	get updateCounts(): number[] {
		return this.machines.map(({ updates }) => updates);
	}

	/** A timer's counter in the cycle before `now`. */
	valueOf(timer: number): number {
		return this.machines[timer].valueBefore(this.now);
	}

	raise(timer: number, event: number, time: number): void {
		for (const { machine, delay } of this.listeners[timer][event]) {
			const { kernel } = machine.timer;
			machine.act(Math.ceil(time / kernel) * kernel + delay);
		}
	}

	skipped(timer: number, time: number): void {
		this.sink.skipped?.(timer, time);
	}

	updated(timer: number, time: number): void {
		this.sink.update(timer, time);
	}

	captured(timer: number, time: number, value: number): void {
		this.sink.capture(timer, time, value);
	}

	pin(output: number, time: number, level: 0 | 1): void {
		this.pinLevels[output] = level;
		this.sink.output(output, time, level);
	}

	matched(timer: number, channel: number, time: number): void {
		this.sink.match?.(timer, channel, time);
	}

	ramp(timer: number, time: number, value: number, step: number, lead: number): void {
		this.sink.ramp?.(timer, time, value, step, lead);
	}

	written(timer: number, time: number): void {
		this.sink.write?.(timer, time);
	}

	took(timer: number, time: number, register: number, value: number): void {
		this.sink.register?.(timer, time, register, value);
	}

	reference(timer: number, channel: number, time: number, level: SimLevel): void {
		if (isApart(this.system.timers[timer].channels[channel])) this.sink.reference?.(timer, channel, time, level);
		if (!this.ready) return;
		for (const listener of this.levels[timer]) if (listener.channel === channel) this.look(listener, time);
	}

	/** A listener's level may have changed: its next kernel cycle samples it. */
	private look(listener: LevelListener, time: number): void {
		const { kernel } = listener.machine.timer;
		listener.sampleAt = Math.min(listener.sampleAt, Math.ceil(Math.max(0, time) / kernel) * kernel);
	}

	private nextTime(): number {
		let next = Infinity;
		for (const machine of this.machines) if (machine.nextAt < next) next = machine.nextAt;
		for (const { edges, next: at } of this.inputs) if (at < edges.length && edges[at] < next) next = edges[at];
		for (const { at } of this.scheduled) if (at < next) next = at;
		const { writes } = this.system;
		if (this.nextWrite < writes.length && writes[this.nextWrite].at < next) next = writes[this.nextWrite].at;
		for (const { sampleAt, changes } of this.levelListeners) {
			if (sampleAt < next) next = sampleAt;
			if (changes.length > 0 && changes[0].at < next) next = changes[0].at;
		}
		return next;
	}

	private moment(time: number): void {
		for (const [i, input] of this.inputs.entries())
			while (input.next < input.edges.length && input.edges[input.next] === time) {
				input.level = input.level === 1 ? 0 : 1;
				input.next++;
				for (const listener of this.inputLevels[i]) this.look(listener, time);
			}
		const { writes, timers } = this.system;
		for (; this.nextWrite < writes.length && writes[this.nextWrite].at === time; this.nextWrite++) {
			const { timer, register, value, at } = writes[this.nextWrite];
			const index = timers.findIndex(({ id }) => id === timer);
			this.machines[index].write(registerOf(timers[index], register), value, at);
		}
		if (this.scheduled.some(({ at }) => at === time)) {
			const due = this.scheduled.filter(({ at }) => at === time);
			this.scheduled = this.scheduled.filter(({ at }) => at !== time);
			for (const { run } of due) run(time);
		}
		for (const machine of this.order) {
			const listener = this.own[machine.index];
			// Levels whose edges act without latency act in this very cycle.
			if (listener && listener.sampleAt === time && !listener.gate && listener.delay === 0) this.takeSample(listener, time);
			if (machine.nextAt <= time) machine.boundary(time);
		}
		// What is looked at by gates, or acts later, sees everything that happened here.
		for (const listener of this.levelListeners) {
			if (listener.sampleAt === time) this.takeSample(listener, time);
			for (; listener.changes.length > 0 && listener.changes[0].at === time; listener.changes.shift())
				listener.machine.gate(listener.changes[0].open, time);
		}
		this.now = time + 1;
	}

	private takeSample(listener: LevelListener, time: number): void {
		listener.sampleAt = Infinity;
		const level = listener.level();
		if (level === listener.sample) return;
		listener.sample = level;
		if (listener.gate) listener.changes.push({ at: time + listener.delay, open: (level === 1) === (listener.edge !== 'fall') });
		else if (listener.edge === 'both' || (level === 1) === (listener.edge === 'rise')) listener.machine.act(time + listener.delay);
	}

	/** Lets a machine hear its trigger. */
	private listen(machine: Machine): void {
		const { trigger, kernel } = machine.timer;
		if (!trigger) return;
		const delay = trigger.latency * kernel;
		const { from } = trigger;
		const gate = trigger.action === 'gate';
		if ('input' in from) {
			const at = Object.keys(this.system.inputs).indexOf(from.input);
			const input = this.inputs[at];
			this.addLevel(this.inputLevels[at], { machine, delay, channel: -1, edge: from.edge, gate, level: () => input.level });
			return;
		}
		const source = this.system.timers.findIndex(({ id }) => id === from.timer);
		const level = from.event.startsWith('level:');
		const channel = this.system.timers[source].channels.findIndex(({ id }) => id === from.event.slice(6));
		if (level) {
			const { channels } = this.machines[source].outputs;
			this.addLevel(this.levels[source], { machine, delay, channel, edge: 'rise', gate, level: () => channels[channel].reference });
		} else {
			this.listeners[source][eventOf(from, this.system.timers[source])].push({ machine, delay });
			if (from.event.startsWith('match:')) this.machines[source].outputs.hear(channel);
		}
	}

	private addLevel(list: LevelListener[], listener: Omit<LevelListener, 'sample' | 'sampleAt' | 'changes'>): void {
		const sample = listener.level();
		const whole: LevelListener = { ...listener, sample, sampleAt: 0, changes: [] };
		list.push(whole);
		this.own[listener.machine.index] = whole;
		this.levelListeners.push(whole);
		if (listener.gate) listener.machine.gate((sample === 1) === (listener.edge !== 'fall'), 0);
	}

	/** Sequences and pattern of a machine. */
	private feed(machine: Machine, firstOutput: number): void {
		const { pattern, legs } = machine.timer;
		// Its bits are the last of a timer's outputs.
		const end = firstOutput + namesOf(machine.timer).length;
		const [bits, switched] = [bitsOf(pattern), bitsOf(legs)];
		const feeds = [
			...this.rowFeeds(machine),
			...this.wordFeed(machine, pattern, bits, end - switched.length - bits.length),
			...this.wordFeed(machine, legs, switched, end - switched.length)
		];
		if (feeds.length > 0)
			machine.onUpdate = (time) => {
				for (const feed of feeds) feed(machine.updates, time);
			};
	}

	/** What writes the rows of each sequence, after its row 0 was set. */
	private rowFeeds(machine: Machine): Feed[] {
		const sequences = (machine.timer.sequences ?? []).filter(({ rows }) => rows.length > 0);
		const lists = sequences.map((sequence) => rowsOf(machine.timer, sequence));
		for (const rows of lists) for (const [register, value] of rows(0)) machine.registers[register] = value;
		if (sequences.length > 0) machine.begin();
		return sequences.map((sequence, which) => {
			const { every = 1, apart = 0, prefill, lag } = sequence;
			const rows = lists[which];
			if (prefill) for (const [register, value] of rows(1)) machine.write(register, value, -1);
			return (k, time) => {
				if (k % every !== 0) return;
				const row = k / every + (prefill ? 1 : 0);
				rows(row).forEach(([register, value], i) => {
					const after = lagAt(lag, k) + i * apart;
					if (after === 0) machine.writeNow(register, value, time);
					else
						this.scheduled.push({
							at: time + after,
							what: `${machine.index} ${which} row ${row % sequence.rows.length} ${i}`,
							run: (at) => machine.write(register, value, at)
						});
				});
			};
		});
	}

	/** What sends the words of a pattern or of legs to their bits. */
	private wordFeed(machine: Machine, pattern: SimPattern | undefined, bits: readonly number[], firstBit: number): Feed[] {
		if (!pattern) return [];
		bits.forEach((bit, i) => this.pin(firstBit + i, -1, pattern.initial.includes(bit) ? 1 : 0));
		const sender = (word: { set: number[]; clear: number[] }) => (at: number) =>
			bits.forEach((bit, i) => {
				if (word.set.includes(bit)) this.pin(firstBit + i, at, 1);
				else if (word.clear.includes(bit)) this.pin(firstBit + i, at, 0);
			});
		return [
			(k, time) => {
				if (pattern.words.length === 0 || (!pattern.loop && k > pattern.words.length)) return;
				const word = pattern.words[(k - 1) % pattern.words.length];
				const lag = lagAt(pattern.lag, k);
				const what = `${machine.index} ${firstBit} word ${k % pattern.words.length}`;
				if (lag === 0) sender(word)(time);
				else this.scheduled.push({ at: time + lag, what, run: sender(word) });
				if (word.then) this.scheduled.push({ at: time + lag + word.then.after, what: `${what} then`, run: sender(word.then) });
			}
		];
	}

	/** What is heard in the same cycle comes before what hears it. */
	private inOrder(): Machine[] {
		const heard = ({ trigger }: SimTimer) =>
			trigger && trigger.latency === 0 && trigger.action !== 'gate' && 'timer' in trigger.from ? [trigger.from.timer] : [];
		// A ring without latency is not allowed (timers.md 7); where one is, it is cut somewhere.
		const order = feedersFirst(this.system.timers, heard, () => undefined);
		return order.map((timer) => this.machines[this.system.timers.indexOf(timer)]);
	}
}

/** Does the pin differ from the reference: by dead time or by polarity? */
export function isApart({ dead, inverted }: SimChannel): boolean {
	return dead !== undefined || inverted;
}

function namesOf(timer: SimTimer): string[] {
	const channels = timer.channels.flatMap(({ id, output, dead }) => {
		if (output.model === 'none') return [];
		return dead === undefined ? [`${timer.id}.${id}`] : [`${timer.id}.${id}`, `${timer.id}.${id}.n`];
	});
	return [
		...channels,
		...bitsOf(timer.pattern).map((bit) => `${timer.id}.p${bit}`),
		...bitsOf(timer.legs).map((bit) => `${timer.id}.s${bit}`)
	];
}

/** Every bit that a pattern names, ascending. */
function bitsOf(pattern: SimPattern | undefined): number[] {
	if (!pattern) return [];
	const all = pattern.words.flatMap(({ set, clear, then }) => [...set, ...clear, ...(then?.set ?? []), ...(then?.clear ?? [])]);
	return [...new Set([...all, ...pattern.initial])].sort((a, b) => a - b);
}

function eventOf({ event }: Extract<SimSource, { timer: string }>, timer: SimTimer): number {
	if (event === 'start') return EVENT_START;
	if (event === 'update') return EVENT_UPDATE;
	return EVENT_MATCH + timer.channels.findIndex(({ id }) => id === event.slice(6));
}

function registerOf(timer: SimTimer, register: string): number {
	if (register === 'reload') return RELOAD;
	if (register === 'prescale') return PRESCALE;
	if (register === 'repeat') return REPEAT;
	return COMPARE + timer.channels.findIndex(({ id }) => `compare:${id}` === register);
}

/** The registers of a sequence's row by its number, in the order in which they are written. */
function rowsOf({ channels }: SimTimer, { rows, loop, reloadFirst }: SimSequence): (k: number) => [number, number][] {
	const lists = rows.map(({ compare, reload, prescale }) => {
		const compares = Object.entries(compare).map(([id, value]): [number, number] => [
			COMPARE + channels.findIndex((channel) => channel.id === id),
			value
		]);
		const period: [number, number][] = [];
		if (reload !== undefined) period.push([RELOAD, reload]);
		if (prescale !== undefined) period.push([PRESCALE, prescale]);
		return reloadFirst ? [...period, ...compares] : [...compares, ...period];
	});
	return (k) => (k >= rows.length && !loop ? [] : lists[k % rows.length]);
}

function placeInRows(sequence: SimSequence, updates: number): string {
	const every = sequence.every ?? 1;
	return `${placeIn(sequence.rows.length, sequence.loop, Math.floor(updates / every))}/${updates % every}`;
}

/** Where a sequence or a pattern stands after so many updates, as far as its future hangs on it. */
function placeIn(length: number | undefined, loop: boolean | undefined, updates: number): number {
	if (length === undefined || length === 0) return -1;
	return loop === false ? Math.min(updates, length + 1) : updates % length;
}
