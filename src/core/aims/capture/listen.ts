import type { Hertz } from '../../exact/index.js';
import type { SimInput } from '../../sim/index.js';
import { figureOf } from '../common/build.js';
import type { AimDerivation, Switching } from '../common/derivation.js';
import { channelFilter, endOf, filtered, frameOf, momentsAt, serviceOf, timesTo, addReading } from '../common/listen.js';
import type { Heard, InputLines, Misread, Readings } from '../common/replay.js';
import type { CaptureAim } from './schema.js';

/** What the timer reads of its input (timers.md 8): times between captures, edges counted for a gate, or one after the other as the rate goes. */
export function listenCapture(
	derivation: AimDerivation<CaptureAim>,
	{ input }: InputLines,
	base: Hertz,
	core: Hertz | null
): Heard | undefined {
	if (!input) return undefined;
	const { switching } = derivation.run;
	return switching ? captured(derivation, switching, input, base, core) : gated(derivation, input, base);
}

/** An accepted rise: when it is latched, and when it really came. */
interface Rise {
	time: number;
	real: number;
}

/** Rises that the filter let through, each with the last rise of the signal before it was accepted. */
function risesOf(derivation: AimDerivation<CaptureAim>, input: SimInput, base: Hertz) {
	const { kernel } = frameOf(derivation, base);
	const { edges, trace } = filtered(input, kernel, channelFilter(derivation, derivation.aim), endOf([input], base), base);
	const own = timesTo(input, 1);
	let last = -1;
	const passed = edges.flatMap(({ level, cycle }): Rise[] => {
		if (level !== 1) return [];
		while (last + 1 < own.length && own[last + 1] <= cycle * kernel) last++;
		return [{ time: cycle * kernel, real: own[Math.max(0, last)] }];
	});
	return { passed, own, trace };
}

/** Software reads by one way until a reading sends it to the next; each reading is the time between two captures that were served, or edges counted for a gate. */
function captured(derivation: AimDerivation<CaptureAim>, switching: Switching, input: SimInput, base: Hertz, core: Hertz | null): Heard {
	const { aim } = derivation;
	const { passed, own, trace } = risesOf(derivation, input, base);
	const service = serviceOf(aim.service, base, core);
	const reader = new RateReader(derivation, switching, { passed, all: passed.length === own.length, base, service });
	const readings = reader.read();
	const { tickRate } = frameOf(derivation, base);
	return {
		replay: { aim: aim.id, reads: { kind: 'rate' }, tickRate, edges: own.length, accepted: passed.length, readings },
		accepted: trace,
		captures: momentsAt(reader.captures, base),
		service
	};
}

/** Goes along the rises as software would. */
class RateReader {
	readonly captures: number[] = [];
	private readonly readings: Readings = { at: [], counts: [], truth: [], wrong: [], over: [], came: [] };
	/** The way in use; past the last of them: the gate. */
	private way = 0;
	/** The rise at hand. */
	private next = 0;
	/** When the service of the last capture ends. */
	private free = 0;
	private readonly frame: ReturnType<typeof frameOf>;

	constructor(
		private readonly derivation: AimDerivation<CaptureAim>,
		private readonly switching: Switching,
		private readonly signal: { passed: readonly Rise[]; all: boolean; base: Hertz; service: number }
	) {
		this.frame = frameOf(derivation, signal.base);
	}

	read(): Readings {
		while (this.next < this.signal.passed.length && (this.way < this.switching.ways.length ? this.byCapture() : this.byGate()));
		return this.readings;
	}

	/** Captures of every so many-th rise until the rate leaves the way's band. False at the end. */
	private byCapture(): boolean {
		const { passed } = this.signal;
		const { every, up, down } = this.switching.ways[this.way];
		let before: { rise: number } | undefined;
		let skipped = 0;
		for (let rise = this.next + every - 1; rise < passed.length; rise += every) {
			this.captures.push(passed[rise].time);
			const begins = Math.max(passed[rise].time, this.free);
			// While one is served the next waits in its register, and a second one overwrites it.
			if (rise + every < passed.length && passed[rise + every].time <= begins) {
				skipped++;
				continue;
			}
			this.free = begins + this.signal.service;
			const hz = before && this.add(before.rise, rise, skipped > 0 ? every : rise - before.rise, skipped > 0);
			before = { rise };
			skipped = 0;
			if (hz === undefined) continue;
			this.next = rise + 1;
			if (up && hz > up.toNumber()) {
				this.way++;
				return true;
			}
			if (down && hz < down.toNumber()) {
				this.way--;
				return true;
			}
		}
		return false;
	}

	/** A reading between two rises, taken for so many edges; the rate that software makes of it. */
	private add(from: number, to: number, edges: number, skipped: boolean): number {
		const { kernel, prescale, width, tickRate } = this.frame;
		const { passed, all } = this.signal;
		const [first, last] = [passed[from], passed[to]];
		const full = 2 ** width;
		const counter = (time: number) => Math.floor(time / (kernel * prescale));
		const ticks = counter(last.time) - counter(first.time);
		const counted = this.derivation.aim.overflows === 'counted';
		const counts = counted ? ticks : ticks % full;
		const wrong: Misread | '' = skipped ? 'overwritten' : ticks >= full && !counted ? 'wrapped' : all ? '' : 'missed';
		addReading(this.readings, last.time, counts, last.real - first.real, wrong);
		// Edges that software does not know of are not in its reading, though they came.
		this.readings.over!.push(edges);
		this.readings.came!.push(to - from);
		return counts === 0 ? Infinity : (edges * tickRate.toNumber()) / counts;
	}

	/** Rises counted for one gate after the other, until the rate is below. False at the end. */
	private byGate(): boolean {
		const { passed, base, all } = this.signal;
		const { gate } = this.switching;
		if (!gate) return false;
		const span = Math.round(gate.seconds.mul(base).toNumber());
		for (let from = passed[this.next].time; from + span <= passed[passed.length - 1].time; from += span) {
			let [counted, real] = [0, 0];
			for (; this.next < passed.length && passed[this.next].time < from + span; this.next++) {
				counted++;
				if (passed[this.next].real < from + span) real++;
			}
			const kept = counted % 2 ** this.frame.width;
			// As a rate: so many edges within the gate, in ticks.
			const { kernel, prescale } = this.frame;
			const ticks = Math.round(span / (kernel * prescale));
			addReading(this.readings, from + span, ticks, span, kept !== counted ? 'wrapped' : all ? '' : 'missed');
			this.readings.over!.push(kept);
			this.readings.came!.push(real);
			if (kept / gate.seconds.toNumber() >= gate.down.toNumber()) continue;
			this.way = this.switching.ways.length - 1;
			return true;
		}
		return false;
	}
}

/** Edges counted for a gate, one gate after the other. */
function gated(derivation: AimDerivation<CaptureAim>, input: SimInput, base: Hertz): Heard | undefined {
	const { aim } = derivation;
	const gate = figureOf(derivation, 'gate');
	if (!gate) return undefined;
	const { tickRate, width } = frameOf(derivation, base);
	const span = gate.mul(base).toNumber();
	const { passed, own, trace } = risesOf(derivation, input, base);
	const readings: Readings = { at: [], counts: [], truth: [], wrong: [] };
	const last = own.length > 0 ? own[own.length - 1] : 0;
	let [i, j] = [0, 0];
	for (let from = 0; from + span <= last; from += span) {
		let [counts, truth] = [0, 0];
		for (; i < passed.length && passed[i].time < from + span; i++) counts++;
		for (; j < own.length && own[j] < from + span; j++) truth++;
		const kept = counts % 2 ** width;
		addReading(readings, from + span, kept, truth, kept !== counts ? 'wrapped' : counts < truth - 1 ? 'missed' : '');
	}
	const replay = { aim: aim.id, reads: { kind: 'gated' as const, gate }, tickRate, edges: own.length, accepted: passed.length, readings };
	return { replay, accepted: trace };
}
