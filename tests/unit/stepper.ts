import type { SimChannel, SimLag, SimLevel, SimSequence, SimSystem, SimTimer } from '../../src/core/sim/index.js';

/**
 * The simulator's slow twin: every timer at every one of its kernel cycles, as timers.md says it, with whole histories kept
 * so that triggers look back at what was there. Used as the oracle of random systems; nothing of it is shared with the simulator.
 */
interface State {
	timer: SimTimer;
	n: number;
	up: boolean;
	/** Direction in which the value held was reached. */
	came: 'up' | 'down';
	phase: number;
	running: boolean;
	/** Base cycles of its first and its latest start. */
	first: number | undefined;
	since: number | undefined;
	skipped: number;
	/** Ticks until software sets the counter; 0: it does not. */
	waitsFor: number;
	updates: number[];
	captures: [number, number][];
	reload: number;
	prescale: number;
	repeat: number;
	compare: Map<string, number>;
	waiting: { register: string; value: number; at: number }[];
	/** References by base cycle, and before cycle 0. */
	references: Map<string, SimLevel[]>;
	resting: Map<string, SimLevel>;
	level: Map<string, SimLevel>;
	events: Map<string, number[]>;
	bits: Map<string, SimLevel[]>;
}

export interface Stepped {
	outputs: Record<string, SimLevel[]>;
	updates: Record<string, number[]>;
	captures: Record<string, [number, number][]>;
	values: Record<string, number[]>;
	references: Record<string, SimLevel[]>;
}

/** Sixteen delays that go evenly through a range, in an order of their own. */
function delayOf(lag: SimLag, k: number): number {
	if (typeof lag === 'number') return lag;
	const place = [0, 15, 8, 4, 12, 2, 10, 6, 14, 1, 9, 5, 13, 3, 11, 7][(k - 1) % 16];
	return lag.least + Math.round(((lag.most - lag.least) * place) / 15);
}

export function stepSystem(system: SimSystem, until: number): Stepped {
	const states = new Map(system.timers.map((timer) => [timer.id, begin(timer)]));
	const values: Record<string, number[]> = Object.fromEntries(system.timers.map(({ id }) => [id, []]));
	const inputAt = (name: string, t: number): SimLevel => {
		const { initial, edges } = system.inputs[name];
		const before = Array.from(edges).filter((edge) => edge <= t).length;
		return ((initial + before) % 2) as SimLevel;
	};
	const writes = [...system.writes];
	const later: { at: number; timer: string; register: string; value: number }[] = [];
	const words: { at: number; state: State; name: 'p' | 's'; set: number[]; clear: number[] }[] = [];
	for (let t = 0; t < until; t++) {
		const now = [...writes.filter(({ at }) => at === t), ...later.filter(({ at }) => at === t)];
		for (const { timer, register, value, at } of now) states.get(timer)!.waiting.push({ register, value, at });
		for (const state of inOrder(states)) {
			if (t % state.timer.kernel === 0) cycle(state, t);
			for (const [id, levels] of state.references) levels.push(state.level.get(id)!);
			for (const levels of state.bits.values()) levels.push(levels.at(-1)!);
		}
		for (const word of words.filter(({ at }) => at === t)) send(word, t);
		for (const state of states.values()) values[state.timer.id].push(state.n);
	}
	const outputs: Record<string, SimLevel[]> = {};
	const references: Record<string, SimLevel[]> = {};
	for (const state of states.values()) {
		pins(state, until, outputs);
		for (const [id, levels] of state.references) references[`${state.timer.id}.${id}`] = levels;
	}
	return {
		references,
		outputs,
		updates: Object.fromEntries([...states].map(([id, { updates }]) => [id, updates])),
		captures: Object.fromEntries([...states].map(([id, { captures }]) => [id, captures])),
		values
	};

	function cycle(state: State, t: number): void {
		const { timer } = state;
		const c = t / timer.kernel;
		const acts = actsAt(state, c);
		const action = timer.trigger?.action;
		const wasRunning = state.running;
		const counted = wasRunning && state.since! < t && (action === 'clock' ? acts : action === 'gate' ? gateIn(state, c - 1) : true);
		let due = false;
		if (counted) {
			state.phase++;
			if (state.phase >= state.prescale) {
				state.phase = 0;
				due = true;
			}
		}
		const own = timer.start !== 'trigger' && t === Math.ceil(timer.start / timer.kernel) * timer.kernel;
		const starts = !wasRunning && (own || (acts && action === 'start'));
		if (acts && (action === 'reset' || action === 'restart')) {
			// With a start in the same cycle it is a restart, and its events come once.
			update(state, t);
			immediate(state, t);
			state.phase = 0;
			if (!state.running && (starts || action === 'restart')) launch(state, t);
			hold(state, t);
		} else {
			if (due && !blocked(state)) move(state, t);
			else immediate(state, t);
			if (starts && !state.running) {
				state.phase = 0;
				launch(state, t);
				hold(state, t);
			}
		}
		levels(state);
		if (acts && action === 'capture') state.captures.push([t, state.n]);
	}

	function launch(state: State, t: number): void {
		state.running = true;
		state.first ??= t;
		state.since = t;
		raise(state, 'start', t);
	}

	/** The counter moves by one tick. */
	function move(state: State, t: number): void {
		const { timer, n, reload } = state;
		const max = 2 ** timer.width - 1;
		const inclusive = timer.rule === 'inclusive';
		for (const channel of timer.channels)
			if (channel.output.model === 'action' && channel.output.edge === 'leave' && n === state.compare.get(channel.id))
				match(state, channel, state.came, t);
		let next = n + 1;
		let [end, crest, top, reloads] = [false, false, false, false];
		switch (timer.mode) {
			case 'up':
				end = n === max || (inclusive ? n === reload : n === reload - 1);
				next = end ? 0 : n + 1;
				top = !end && next === reload;
				break;
			case 'free':
				end = n === max;
				next = end ? 0 : n + 1;
				top = next === max;
				break;
			case 'preload':
				end = n === max;
				next = end ? (timer.late ? 0 : timer.preload) : n + 1;
				top = next === max;
				if (state.waitsFor > 0 && --state.waitsFor === 0) [end, next, top] = [false, timer.preload, false];
				if (end) state.waitsFor = timer.late ?? 0;
				break;
			case 'tap':
				next = n === max ? 0 : n + 1;
				end = next % 2 ** (timer.bit! + 1) === 2 ** timer.bit!;
				top = next === max;
				break;
			case 'advance':
				next = n === max ? 0 : n + 1;
				end = next === reload;
				if (end) state.reload = (reload + timer.advance!) % (max + 1);
				top = next === max;
				break;
			case 'clear':
				next = n === max ? 0 : n + 1;
				top = next === max;
				if (state.waitsFor > 0 && --state.waitsFor === 0) [next, top] = [0, false];
				// A register of 0 is met again as soon as it is cleared.
				if (next === reload && state.waitsFor === 0) {
					end = true;
					state.waitsFor = 1 + (timer.late ?? 0);
				}
				break;
			case 'down':
				end = reloads = top = inclusive ? n === 0 : n === 1;
				next = n === 0 ? max : n - 1;
				break;
			case 'updown': {
				if (state.up && n === reload) state.up = false;
				const up = state.up;
				state.came = up ? 'up' : 'down';
				next = up ? n + 1 : n - 1;
				if (up && next > max) {
					next = 0;
					end = true;
				} else if (up && next === reload) {
					crest = top = true;
					state.up = false;
				} else if (!up && next === 0) {
					end = true;
					state.up = true;
				}
			}
		}
		const counts = timer.mode === 'updown' ? (end && timer.updateAt !== 'top') || (crest && timer.updateAt !== 'bottom') : end;
		let updated = false;
		if (counts) {
			state.skipped++;
			updated = state.skipped === state.repeat + 1;
			if (updated) update(state, t);
		}
		immediate(state, t);
		if (timer.oneShot && updated && end) {
			state.running = false;
			state.n = 0;
			if (n !== 0) taken(state, t, false);
			return;
		}
		state.n = reloads ? state.reload : next;
		taken(state, t, top);
	}

	/** Does the trigger act at kernel cycle c? */
	function actsAt({ timer }: State, c: number): boolean {
		if (!timer.trigger || timer.trigger.action === 'gate') return false;
		const { from, latency } = timer.trigger;
		const seen = c - latency;
		if (seen < 0) return false;
		if ('input' in from || from.event.startsWith('level:')) {
			const [a, b] = [sample(timer, seen - 1), sample(timer, seen)];
			const edge = 'input' in from ? from.edge : 'rise';
			return a !== b && (edge === 'both' || (b === 1) === (edge === 'rise'));
		}
		const times = states.get(from.timer)!.events.get(from.event) ?? [];
		return times.some((time) => Math.ceil(time / timer.kernel) === seen);
	}

	/** The source's level at a kernel cycle of the receiver; before cycle 0 the first one. */
	function sample(timer: SimTimer, c: number): SimLevel {
		const { from } = timer.trigger!;
		if ('input' in from) return c < 0 ? system.inputs[from.input].initial : inputAt(from.input, c * timer.kernel);
		const source = states.get(from.timer)!;
		const id = from.event.slice(6);
		return c < 0 ? source.resting.get(id)! : source.references.get(id)![c * timer.kernel];
	}

	function gateIn({ timer }: State, c: number): boolean {
		const { from, latency } = timer.trigger!;
		const level = sample(timer, c - latency);
		return (level === 1) === !('input' in from && from.edge === 'fall');
	}

	function update(state: State, t: number): void {
		const { timer } = state;
		state.skipped = 0;
		state.updates.push(t);
		const buffered = (register: string) =>
			register === 'reload' ? timer.buffered.reload : register.startsWith('compare') ? waits(timer, register) : true;
		for (const { register, value, at } of state.waiting) if (buffered(register) && at < t) set(state, register, value);
		state.waiting = state.waiting.filter(({ register, at }) => !buffered(register) || at >= t);
		const k = state.updates.length;
		const { sequences = [], pattern } = timer;
		for (const sequence of sequences) {
			const every = sequence.every ?? 1;
			if (k % every !== 0) continue;
			rowOf(sequence, k / every + (sequence.prefill ? 1 : 0)).forEach(([register, value], i) => {
				const after = delayOf(sequence.lag, k) + i * (sequence.apart ?? 0);
				if (after > 0) later.push({ at: t + after, timer: timer.id, register, value });
				else state.waiting.push({ register, value, at: t });
			});
		}
		for (const [name, port] of [
			['p', pattern],
			['s', timer.legs]
		] as const) {
			if (!port || (!port.loop && k > port.words.length)) continue;
			const { set: on, clear, then } = port.words[(k - 1) % port.words.length];
			const at = t + delayOf(port.lag, k);
			words.push({ at, state, name, set: on, clear });
			if (then) words.push({ at: at + then.after, state, name, set: then.set, clear: then.clear });
		}
		raise(state, 'update', t);
	}
}

function begin(timer: SimTimer): State {
	const compare = new Map(timer.channels.map(({ id, compare: value }) => [id, value]));
	const state: State = {
		timer,
		n: 0,
		up: timer.mode !== 'down',
		came: timer.mode === 'down' || timer.mode === 'updown' ? 'down' : 'up',
		phase: 0,
		running: false,
		first: undefined,
		since: undefined,
		skipped: 0,
		waitsFor: 0,
		updates: [],
		captures: [],
		reload: timer.reload,
		prescale: timer.prescale,
		repeat: timer.repeat,
		compare,
		waiting: [],
		references: new Map(timer.channels.map(({ id }) => [id, []])),
		resting: new Map(),
		level: new Map(timer.channels.map(({ id, output }) => [id, output.model === 'action' ? output.initial : 0])),
		events: new Map(),
		bits: new Map()
	};
	const { sequences = [], pattern } = timer;
	for (const sequence of sequences) {
		for (const [register, value] of rowOf(sequence, 0)) set(state, register, value);
		if (sequence.prefill) for (const [register, value] of rowOf(sequence, 1)) state.waiting.push({ register, value, at: -1 });
	}
	state.n = firstValue(state);
	levels(state);
	for (const { id } of timer.channels) state.resting.set(id, state.level.get(id)!);
	for (const [name, port] of [
		['p', pattern],
		['s', timer.legs]
	] as const) {
		const named = port?.words.flatMap(({ set: on, clear, then }) => [...on, ...clear, ...(then?.set ?? []), ...(then?.clear ?? [])]) ?? [];
		for (const bit of [...named, ...(port?.initial ?? [])]) state.bits.set(`${name}${bit}`, [port!.initial.includes(bit) ? 1 : 0]);
	}
	return state;
}

/** Does a compare wait for an update? */
function waits({ channels, buffered }: SimTimer, register: string): boolean {
	return channels.find(({ id }) => `compare:${id}` === register)?.buffered ?? buffered.compare;
}

function rowOf({ rows, loop, reloadFirst }: SimSequence, k: number): [string, number][] {
	if (!loop && k >= rows.length) return [];
	const { compare, reload, prescale } = rows[k % rows.length];
	const all = Object.entries(compare).map(([id, value]): [string, number] => [`compare:${id}`, value]);
	const period = Object.entries({ reload, prescale }).filter((one): one is [string, number] => one[1] !== undefined);
	return reloadFirst ? [...period, ...all] : [...all, ...period];
}

function set(state: State, register: string, value: number): void {
	if (register === 'reload') state.reload = value;
	else if (register === 'prescale') state.prescale = value;
	else if (register === 'repeat') state.repeat = value;
	else state.compare.set(register.slice(8), value);
}

function immediate(state: State, t: number): void {
	const { buffered } = state.timer;
	const takes = (register: string) =>
		(register === 'reload' && !buffered.reload) || (register.startsWith('compare') && !waits(state.timer, register));
	for (const { register, value, at } of state.waiting) if (takes(register) && at <= t) set(state, register, value);
	state.waiting = state.waiting.filter(({ register, at }) => !takes(register) || at > t);
}

function raise(state: State, event: string, t: number): void {
	state.events.set(event, [...(state.events.get(event) ?? []), t]);
}

function firstValue({ timer, reload }: State): number {
	return timer.mode === 'down' ? reload : timer.mode === 'preload' ? timer.preload : 0;
}

function blocked({ timer, reload }: State): boolean {
	if (reload !== 0) return false;
	return timer.mode === 'updown' || (timer.rule === 'inclusive' && (timer.mode === 'up' || timer.mode === 'down'));
}

function hold(state: State, t: number): void {
	const { mode } = state.timer;
	state.n = firstValue(state);
	state.up = mode !== 'down';
	state.waitsFor = 0;
	state.came = mode === 'down' || mode === 'updown' ? 'down' : 'up';
	taken(state, t, mode === 'down' || (mode === 'preload' && state.n === 2 ** state.timer.width - 1));
}

/** zero, top, and the matches of a value just taken. */
function taken(state: State, t: number, top: boolean): void {
	for (const channel of state.timer.channels) {
		const { output } = channel;
		if (output.model === 'action' && state.n === 0) act(state, channel, output.zero);
		if (output.model === 'action' && top) act(state, channel, output.top);
		if ((output.model !== 'action' || output.edge === 'enter') && state.n === state.compare.get(channel.id))
			match(state, channel, state.came, t);
	}
}

function match(state: State, channel: SimChannel, came: 'up' | 'down', t: number): void {
	if (channel.output.model === 'action') act(state, channel, came === 'up' ? channel.output.matchUp : channel.output.matchDown);
	raise(state, `match:${channel.id}`, t);
}

function act(state: State, { id }: SimChannel, action: 'none' | 'low' | 'high' | 'toggle'): void {
	if (action === 'none') return;
	state.level.set(id, action === 'toggle' ? ((1 - state.level.get(id)!) as SimLevel) : action === 'high' ? 1 : 0);
}

function levels(state: State): void {
	for (const { id, output } of state.timer.channels) {
		if (output.model !== 'level') continue;
		const compare = state.compare.get(id)!;
		const below = state.up ? state.n < compare : state.n <= compare;
		state.level.set(id, below === (output.sense === 'below') ? 1 : 0);
	}
}

function inOrder(states: Map<string, State>): State[] {
	const order: State[] = [];
	const add = (state: State) => {
		if (order.includes(state)) return;
		const trigger = state.timer.trigger;
		if (trigger && trigger.latency === 0 && trigger.action !== 'gate' && 'timer' in trigger.from) add(states.get(trigger.from.timer)!);
		if (!order.includes(state)) order.push(state);
	};
	[...states.values()].forEach(add);
	return order;
}

function send({ state, name, set: on, clear }: { state: State; name: 'p' | 's'; set: number[]; clear: number[] }, t: number): void {
	for (const [bit, all] of state.bits) {
		if (on.some((one) => bit === `${name}${one}`)) all[t + 1] = 1;
		else if (clear.some((one) => bit === `${name}${one}`)) all[t + 1] = 0;
	}
}

/** Dead time and polarity over whole histories. */
function pins(state: State, until: number, outputs: Record<string, SimLevel[]>): void {
	const { timer, first } = state;
	for (const { id, output, dead, inverted } of timer.channels) {
		if (output.model === 'none') continue;
		const reference = state.references.get(id)!;
		const polar = (level: boolean) => (level !== inverted ? 1 : 0);
		if (dead === undefined) {
			outputs[`${timer.id}.${id}`] = reference.map((level) => polar(level === 1));
			continue;
		}
		const span = dead * timer.kernel;
		const steady = (t: number, level: SimLevel) =>
			first !== undefined && t - span >= first && reference.slice(t - span, t + 1).every((one) => one === level);
		const all = Array.from({ length: until }, (_, t) => t);
		outputs[`${timer.id}.${id}`] = all.map((t) => polar(steady(t, 1)));
		outputs[`${timer.id}.${id}.n`] = all.map((t) => polar(steady(t, 0)));
	}
	for (const [bit, all] of state.bits) outputs[`${timer.id}.${bit}`] = all.slice(1, until + 1);
}
