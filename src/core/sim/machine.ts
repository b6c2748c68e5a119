import { CAPTURE, CLOCK, COMPARE, EVENT_START, EVENT_UPDATE, PRESCALE, RELOAD, REPEAT, RESET, RESTART, START, type Host } from './host.js';
import { Outputs } from './outputs.js';
import type { SimTimer } from './system.js';

interface Pending {
	register: number;
	value: number;
	at: number;
}

/**
 * One timer (timers.md 3 to 7). Between two moments at which anything happens its counter runs straight, so it is kept as
 * it stood at kernel cycle `synced` and carried on from there; `nextAt` is the next base cycle at which it must be looked at.
 */
export class Machine {
	n: number;
	running = false;
	/** Direction after a turn, and the one in which the value held was reached. */
	private up: boolean;
	private reachedUp: boolean;
	private phase = 0;
	private events = 0;
	private gateOpen = true;
	private synced = 0;
	private readonly max: number;
	readonly registers: Float64Array;
	private pending: Pending[] = [];
	private immediate: Pending[] = [];
	private startAt: number;
	/** Its own start lies behind. */
	private everBegun = false;
	/** Base cycles at which the trigger acts, ascending. */
	private acts: number[] = [];
	private readonly clocked: boolean;
	private readonly actFlag: number;
	readonly outputs: Outputs;
	nextAt = 0;
	/** Updates so far, for sequence and pattern. */
	updates = 0;
	/** `preload` and `clear` by software: ticks until it sets the counter; -1: it does not. */
	private setIn = -1;
	/** The counter's way as it was last told. */
	private told = { time: -1, value: NaN, step: 0, lead: 0 };
	/** Writes a sequence's row; set by the simulation. */
	onUpdate: ((time: number) => void) | undefined;

	constructor(
		readonly timer: SimTimer,
		readonly index: number,
		private readonly host: Host,
		firstOutput: number
	) {
		this.max = 2 ** timer.width - 1;
		this.registers = Float64Array.of(timer.reload, timer.prescale, timer.repeat, ...timer.channels.map(({ compare }) => compare));
		this.up = timer.mode !== 'down';
		this.reachedUp = onlyUp(timer.mode);
		this.n = this.firstValue();
		this.startAt = timer.start === 'trigger' ? Infinity : Math.ceil(timer.start / timer.kernel) * timer.kernel;
		const action = timer.trigger?.action;
		this.clocked = action === 'clock';
		this.actFlag =
			action === undefined ? 0 : { start: START, reset: RESET, restart: RESTART, gate: 0, clock: CLOCK, capture: CAPTURE }[action];
		this.outputs = new Outputs(timer, index, host, firstOutput);
		this.outputs.follow(this.n, this.up, this.registers, -1);
		this.tell(0);
	}

	/** After its registers were given: row 0 of a sequence stands from the start. */
	begin(): void {
		this.n = this.firstValue();
		this.outputs.follow(this.n, this.up, this.registers, -1);
		this.tell(0);
	}

	/** The value held in the base cycle before `time`, without a change of state. */
	valueBefore(time: number): number {
		const cycle = Math.ceil(time / this.timer.kernel) - 1;
		if (!this.counting()) return this.n;
		const steps = Math.floor((this.phase + cycle - this.synced) / this.registers[PRESCALE]);
		return steps <= 0 ? this.n : this.up ? this.n + steps : this.n - steps;
	}

	/** A register is written at base cycle `at`; what is in the buffer from before has a time below 0. */
	write(register: number, value: number, at: number): void {
		if (at >= 0) this.host.written(this.index, at);
		if (this.isBuffered(register)) this.pending.push({ register, value, at });
		else {
			this.immediate.push({ register, value, at });
			this.wake(Math.ceil(at / this.timer.kernel) * this.timer.kernel);
		}
	}

	/** In the very cycle of an update: a register without a buffer changes with it. */
	writeNow(register: number, value: number, at: number): void {
		this.host.written(this.index, at);
		if (this.isBuffered(register)) this.pending.push({ register, value, at });
		else this.set(register, value, at);
	}

	/** The trigger acts at a kernel cycle; several at one cycle are one. */
	act(at: number): void {
		const { acts } = this;
		if (acts.length > 0 && acts[acts.length - 1] === at) return;
		acts.push(at);
		this.wake(at);
	}

	/** The gate opens or closes for the kernel cycles from base cycle `at` on. */
	gate(open: boolean, at: number): void {
		// A step that matters would have been taken here already: one that falls due now is plain.
		if (this.sync(at / this.timer.kernel)) {
			this.n += this.up ? 1 : -1;
			this.reachedUp = this.up;
			if (this.setIn > 0) this.setIn--;
		}
		this.gateOpen = open;
		this.schedule();
		this.tell(at);
	}

	wake(at: number): void {
		if (at < this.nextAt) this.nextAt = at;
	}

	/** Everything that happens where base cycle `time`, one of its kernel cycles, begins (timers.md 4). */
	boundary(time: number): void {
		const wasRunning = this.running;
		let flags = 0;
		if (this.acts.length > 0 && this.acts[0] <= time) {
			this.acts.shift();
			flags = this.actFlag;
		}
		let due = this.sync(time / this.timer.kernel);
		if (flags & CLOCK && this.running && ++this.phase === this.registers[PRESCALE]) {
			this.phase = 0;
			due = true;
		}
		const begins = !wasRunning && (time === this.startAt || (flags & START) !== 0);
		if (time >= this.startAt) this.everBegun = true;
		// A start and a reset at one cycle are one restart: its events are raised once (timers.md 5).
		if (flags & (RESET | RESTART)) this.reset(time, begins || (flags & RESTART) !== 0);
		else {
			if (due && this.running && !this.blocked()) this.step(time);
			else if (this.immediate.length > 0) this.takeImmediate(time);
			if (begins && !this.running) this.start(time);
		}
		this.outputs.follow(this.n, this.up, this.registers, time);
		if (flags & CAPTURE) this.host.captured(this.index, time, this.n);
		this.schedule();
		this.tell(time);
	}

	/** Its state as text, times relative to `time`: equal texts, equal futures. */
	state(time: number): string {
		const pending = this.pending.map(({ register, value }) => `${register}=${value}`).join();
		const acts = this.acts.map((at) => at - time).join();
		const phase = this.phase + (this.counting() ? Math.ceil(time / this.timer.kernel) - this.synced : 0);
		const due = this.immediate.map(({ register, value, at }) => `${register}=${value}@${at - time}`).join();
		const start = this.everBegun ? '' : this.startAt - time;
		return `${due} ${start} ${this.setIn} ${this.n} ${this.up} ${this.reachedUp} ${phase} ${this.running} ${this.events} ${this.gateOpen} ${this.registers.join()} ${pending} ${acts} ${this.nextAt - time} ${this.outputs.state(time)}`;
	}

	/** Carries all of its times on by so many base cycles, a whole number of its kernel cycles. */
	shift(by: number): void {
		this.synced += by / this.timer.kernel;
		this.nextAt += by;
		this.acts = this.acts.map((at) => at + by);
		for (const entry of [...this.pending, ...this.immediate]) if (entry.at >= 0) entry.at += by;
		if (!this.everBegun) this.startAt += by;
		this.told.time += by;
		this.outputs.shift(by);
	}

	private counting(): boolean {
		return this.running && this.gateOpen && !this.clocked && !this.blocked();
	}

	/** Says how the counter goes on from `time` on, where it is not what was said before. */
	private tell(time: number): void {
		const { told, registers } = this;
		const span = registers[PRESCALE] * this.timer.kernel;
		const step = this.counting() ? (this.up ? span : -span) : 0;
		const lead = step === 0 ? 0 : this.phase * this.timer.kernel;
		if (step === told.step) {
			const passed = time - told.time + told.lead;
			const value = step === 0 ? told.value : told.value + Math.floor(passed / span) * (step > 0 ? 1 : -1);
			if (value === this.n && (step === 0 || passed % span === lead)) return;
		}
		told.time = time;
		told.value = this.n;
		told.step = step;
		told.lead = lead;
		this.host.ramp(this.index, time, this.n, step, lead);
	}

	private set(register: number, value: number, time: number): void {
		this.registers[register] = value;
		this.host.took(this.index, time, register, value);
	}

	private isBuffered(register: number): boolean {
		const { buffered } = this.timer;
		if (register === RELOAD) return buffered.reload;
		return register < COMPARE || (this.timer.channels[register - COMPARE].buffered ?? buffered.compare);
	}

	private firstValue(): number {
		const { mode, preload } = this.timer;
		return mode === 'down' ? this.registers[RELOAD] : mode === 'preload' ? preload : 0;
	}

	/** Reload 0 stops an inclusive counter that uses it, and an up-down one in any case. */
	private blocked(): boolean {
		const { mode, rule } = this.timer;
		if (this.registers[RELOAD] !== 0) return false;
		return mode === 'updown' || ((mode === 'up' || mode === 'down') && rule === 'inclusive');
	}

	/** Counts the kernel cycles before `cycle`; true when a step falls on that very boundary. All steps before it were plain ones. */
	private sync(cycle: number): boolean {
		const elapsed = cycle - this.synced;
		this.synced = cycle;
		if (elapsed <= 0 || !this.running || !this.gateOpen || this.clocked) return false;
		const prescale = this.registers[PRESCALE];
		const cycles = this.phase + elapsed;
		if (cycles < prescale) {
			this.phase = cycles;
			return false;
		}
		const steps = Math.floor(cycles / prescale);
		this.phase = cycles - steps * prescale;
		if (this.blocked()) return false;
		const due = this.phase === 0;
		const plain = due ? steps - 1 : steps;
		if (plain > 0) {
			this.n += this.up ? plain : -plain;
			this.reachedUp = this.up;
			if (this.setIn > 0) this.setIn -= plain;
		}
		return due;
	}

	private takeImmediate(time: number): void {
		for (const { register, value } of this.immediate.filter(({ at }) => at <= time)) this.set(register, value, time);
		this.immediate = this.immediate.filter(({ at }) => at > time);
	}

	private start(time: number): void {
		this.running = true;
		this.phase = 0;
		this.outputs.begin(time);
		this.host.raise(this.index, EVENT_START, time);
		this.hold(time);
	}

	/** The value first held, with its events. */
	private hold(time: number): void {
		const { mode } = this.timer;
		this.n = this.firstValue();
		this.up = mode !== 'down';
		this.reachedUp = onlyUp(mode);
		this.setIn = -1;
		this.enter(time, mode === 'down' || (mode === 'preload' && this.n === this.max));
	}

	private reset(time: number, andStart: boolean): void {
		this.update(time);
		if (this.immediate.length > 0) this.takeImmediate(time);
		this.phase = 0;
		if (andStart && !this.running) {
			this.running = true;
			this.outputs.begin(time);
			this.host.raise(this.index, EVENT_START, time);
		}
		this.hold(time);
	}

	/** An update event: buffers load, then sequence and pattern go on. */
	private update(time: number): void {
		this.events = 0;
		this.updates++;
		if (this.pending.length > 0) {
			for (const { register, value, at } of this.pending) if (at < time) this.set(register, value, time);
			this.pending = this.pending.filter(({ at }) => at >= time);
		}
		this.host.updated(this.index, time);
		this.onUpdate?.(time);
		this.host.raise(this.index, EVENT_UPDATE, time);
	}

	/** The counter moves. Old values decide where to, and what leaves; new ones rule from here on. */
	private step(time: number): void {
		const { mode, oneShot, updateAt } = this.timer;
		const { n, registers } = this;
		this.outputs.leave(n, this.reachedUp, registers, time);
		const move = mode === 'updown' ? this.turn() : mode === 'down' ? this.fall() : this.rise(time);
		const candidate = (move & BOTTOM && (mode !== 'updown' || updateAt !== 'top')) || (move & UPPER_TURN && updateAt !== 'bottom');
		const updates = candidate && ++this.events > registers[REPEAT];
		const next = this.n;
		if (updates) this.update(time);
		else if (candidate) this.host.skipped(this.index, time);
		if (this.immediate.length > 0) this.takeImmediate(time);
		if (oneShot && updates && move & BOTTOM) {
			this.running = false;
			this.n = 0;
			if (n !== 0) this.enter(time, false);
			return;
		}
		if (move & RELOADS) this.n = registers[RELOAD];
		else this.n = next;
		this.enter(time, (move & TOP) !== 0);
	}

	/** All modes that only count up. */
	private rise(time: number): number {
		const { timer, n, max, registers } = this;
		const reload = registers[RELOAD];
		if (this.setIn === 1) {
			this.setIn = -1;
			this.n = timer.mode === 'clear' ? 0 : timer.preload;
			// A register of 0 is met again as soon as the counter is cleared.
			return timer.mode === 'clear' && this.awaited(time) ? BOTTOM : 0;
		}
		if (this.setIn > 0) this.setIn--;
		if (timer.mode === 'tap' || timer.mode === 'advance' || timer.mode === 'clear') {
			this.n = n === max ? 0 : n + 1;
			return (this.awaited(time) ? BOTTOM : 0) | (this.n === max ? TOP : 0);
		}
		if (timer.mode === 'preload' && n === max && (timer.late ?? 0) > 0) {
			this.n = 0;
			this.setIn = timer.late!;
			return BOTTOM;
		}
		const last = timer.mode !== 'up' ? max : timer.rule === 'inclusive' ? reload : reload - 1;
		if (n === last || n === max) {
			this.n = timer.mode === 'preload' ? timer.preload : 0;
			return timer.mode === 'preload' && this.n === max ? BOTTOM | TOP : BOTTOM;
		}
		this.n = n + 1;
		return this.n === (timer.mode === 'up' ? reload : max) ? TOP : 0;
	}

	/** Is the value just reached the one whose event a freely running counter waits for? Software then does its part. */
	private awaited(time: number): boolean {
		const { timer, n, max, registers } = this;
		if (timer.mode === 'tap') return n % 2 ** (timer.bit! + 1) === 2 ** timer.bit!;
		if (n !== registers[RELOAD] || this.setIn > 0) return false;
		// Any delay of the service below the interval gives the same events (timers.md 3).
		if (timer.mode === 'advance') this.set(RELOAD, (n + timer.advance!) % (max + 1), time);
		else this.setIn = 1 + (timer.late ?? 0);
		return true;
	}

	private fall(): number {
		const { n, max } = this;
		if (n === (this.timer.rule === 'inclusive' ? 0 : 1)) return BOTTOM | TOP | RELOADS;
		this.n = n === 0 ? max : n - 1;
		return 0;
	}

	/** Up-down: the direction is the one after a turn, the reached one that before it. */
	private turn(): number {
		const { n, max } = this;
		const reload = this.registers[RELOAD];
		if (this.up && n === max && n !== reload) {
			this.n = 0;
			this.reachedUp = true;
			return BOTTOM;
		}
		// A reload lowered to just the value held turns without a top.
		if (this.up && n === reload) this.up = false;
		this.reachedUp = this.up;
		this.n = this.up ? n + 1 : n - 1;
		if (this.up && this.n === reload) {
			this.up = false;
			return TOP | UPPER_TURN;
		}
		if (!this.up && this.n === 0) {
			this.up = true;
			return BOTTOM;
		}
		return 0;
	}

	private enter(time: number, top: boolean): void {
		this.outputs.enter(this.n, this.reachedUp, top, this.registers, time);
	}

	/** Sets `nextAt` to the next moment that matters. */
	private schedule(): void {
		const { kernel } = this.timer;
		let next = this.outputs.dueAt;
		if (this.counting()) {
			const cycles = this.stepsAhead() * this.registers[PRESCALE] - this.phase;
			next = Math.min(next, (this.synced + cycles) * kernel);
		}
		if (!this.everBegun) next = Math.min(next, this.startAt);
		if (this.acts.length > 0) next = Math.min(next, this.acts[0]);
		for (const { at } of this.immediate) next = Math.min(next, Math.ceil(at / kernel) * kernel);
		this.nextAt = next;
	}

	/** How many steps from now the first comes that is not plain: it arrives at, or leaves, a value that matters. */
	private stepsAhead(): number {
		const { n, up, max, registers, timer } = this;
		const { mode } = timer;
		const reload = registers[RELOAD];
		let steps: number;
		if (up) {
			const last = mode === 'up' ? (timer.rule === 'inclusive' ? reload : reload - 1) : mode === 'updown' ? reload : max;
			if (mode === 'updown' && n < last) steps = last - n;
			else if (n <= last) steps = last - n + 1;
			else steps = max - n + 1;
			if (mode === 'tap') {
				const period = 2 ** (timer.bit! + 1);
				steps = Math.min(steps, period - ((n + period / 2) % period));
			}
			if (mode === 'advance' || mode === 'clear') steps = Math.min(steps, reload > n ? reload - n : steps);
			if (this.setIn > 0) steps = Math.min(steps, this.setIn);
			if (this.outputs.matters.top) {
				const top = mode === 'up' ? reload : max;
				if (mode !== 'updown' && top > n) steps = Math.min(steps, top - n);
			}
		} else {
			const last = mode === 'updown' ? 0 : timer.rule === 'inclusive' ? 0 : 1;
			steps = mode === 'updown' ? n : n >= last ? n - last + 1 : 1;
			if (this.outputs.matters.zero && n > 0) steps = Math.min(steps, n);
		}
		const { channels } = this.outputs;
		for (let i = 0; i < channels.length; i++) {
			if (!channels[i].matters) continue;
			const away = up ? registers[COMPARE + i] - n : n - registers[COMPARE + i];
			if (channels[i].leaves ? away >= 0 : away > 0) steps = Math.min(steps, channels[i].leaves ? away + 1 : away);
		}
		return steps;
	}
}

/** Has the mode no direction but up? */
function onlyUp(mode: SimTimer['mode']): boolean {
	return mode !== 'down' && mode !== 'updown';
}

/** What a step did, as bits: the end of a period, the upper turn, the top event, and a reload of `down`. */
const BOTTOM = 1;
const UPPER_TURN = 2;
const TOP = 4;
const RELOADS = 8;
