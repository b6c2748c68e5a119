import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import type { SimInput } from '../src/core/sim/index.js';
import { Rational } from '../src/core/exact/index.js';
import { derivePlan, fernhollow, fernhollowHand, fernhollowLamp, fernhollowVane, type Plan } from '../src/core/plan/index.js';
import { pinLines, planSystem } from '../src/core/predict/index.js';
import { sweepRelations } from '../src/core/readings/index.js';
import { Predictor } from '../src/core/sim/index.js';

/**
 * Makes the recordings and logs of the demo, the same in every run: what the pins of the demo plans do, as instruments of a bench would have
 * recorded it, some with a realistic mistake. `npm run demo` writes them to demo/; `npm run demo -- FILE` writes a dump of 5 million edges.
 */

/** Numbers from 0 to 1 in a fixed order. */
function random(seed: number): () => number {
	let state = seed >>> 0;
	return () => {
		state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
		return state / 2 ** 32;
	};
}

/** A recorded line: its level at first and the times, in seconds, at which it changes. */
interface Line {
	name: string;
	initial: number;
	times: number[];
}

/** What the plan's pins and inputs do from 0 on, by "aim role". */
function waves(plan: Plan, seconds: number): Map<string, Line> {
	const derivation = derivePlan(plan);
	const planned = planSystem(derivation);
	const unit = planned.unit.toNumber();
	const until = Math.ceil(seconds / unit);
	const predictor = new Predictor(planned.system, planned.unit);
	while (!predictor.runTo(until, 1e6));
	const found = new Map<string, Line>();
	for (const { aim, role, source } of pinLines(derivation, planned, predictor.prediction())) {
		const edges = source.edgesBefore(until);
		const times = Array.from({ length: edges }, (_, i) => source.edgeTime(i) * unit);
		found.set(`${aim} ${role}`, { name: role, initial: source.levelAfter(0), times });
	}
	for (const [aim, { lines }] of planned.inputs)
		for (const [role, { initial, edges }] of Object.entries(lines as Record<string, SimInput>))
			found.set(`${aim} ${role}`, { name: role, initial, times: Array.from(edges, (at) => at * unit).filter((at) => at < seconds) });
	return found;
}

interface Recorder {
	/** Seconds between two samples: a power of ten. */
	step: number;
	/** How much faster the board's clock runs than the recorder's, in ppm. */
	ppm: number;
	seed: number;
	/** Seconds of recording before the plan's time 0. */
	before: number;
}

function steady(name: string, period: number, high: number, until: number): Line {
	const turns = Math.floor(until / period);
	return { name, initial: 0, times: Array.from({ length: turns }, (_, k) => [k * period, k * period + high]).flat() };
}

/** As a loose clip shows it: pulses that are not there, and spikes of 60 ns that were never sent. */
function damaged({ name, initial, times }: Line, seed: number): Line {
	const dice = random(seed);
	const kept = times.filter((_, i) => ![20, 21, 22, 23, 90, 91].includes(i));
	for (let n = 0; n < 3; n++) {
		const i = 2 * Math.floor(dice() * (kept.length / 2 - 4)) + 30;
		const at = (kept[i] + kept[i + 1]) / 2;
		kept.splice(i + 1, 0, at, at + 60e-9);
	}
	return { name, initial, times: kept };
}

/** The lines as sampled: the first sample behind an edge shows it. */
function sampled(lines: readonly Line[], { step, ppm, seed, before }: Recorder): Line[] {
	const phase = random(seed)();
	return lines.map(({ name, initial, times }) => {
		const seen = times.map((at) => Math.ceil((at / (1 + ppm * 1e-6) + before) / step + phase));
		// Two edges between two samples are not seen.
		const kept: number[] = [];
		for (const at of seen)
			if (kept.at(-1) === at) kept.pop();
			else kept.push(at);
		return { name, initial, times: kept };
	});
}

function dump(lines: readonly Line[], recorder: Recorder, what: string): string {
	const names = (name: string) => name.replaceAll(' ', '_');
	const code = (i: number) => String.fromCharCode(33 + i);
	const taken = sampled(lines, recorder);
	const picoseconds = Math.round(recorder.step * 1e12);
	const word = ['ps', 'ns', 'us'][Math.floor(Math.log10(picoseconds) / 3)];
	const scale = `${10 ** (Math.round(Math.log10(picoseconds)) % 3)} ${word}`;
	const changes = taken
		.flatMap(({ initial, times }, i) => times.map((at, k) => ({ at, i, level: (initial + k + 1) % 2 })))
		.sort((a, b) => a.at - b.at || a.i - b.i);
	const body: string[] = [];
	let now = -1;
	for (const { at, i, level } of changes) {
		if (at !== now) body.push(`#${at}`);
		body.push(`${level}${code(i)}`);
		now = at;
	}
	return [
		`$comment ${what} $end`,
		`$timescale ${scale} $end`,
		'$scope module bench $end',
		...taken.map(({ name }, i) => `$var wire 1 ${code(i)} ${names(name)} $end`),
		'$upscope $end',
		'$enddefinitions $end',
		'#0',
		'$dumpvars',
		...taken.map(({ initial }, i) => `${initial}${code(i)}`),
		'$end',
		...body,
		`#${now + Math.ceil(1e-6 / recorder.step)}`,
		''
	].join('\n');
}

/** A row an edge, with the levels of all lines, as recorders export them. */
function rows(lines: readonly Line[], recorder: Recorder): string {
	const taken = sampled(lines, recorder);
	const decimals = Math.max(0, Math.ceil(-Math.log10(recorder.step)));
	const levels = taken.map(({ initial }) => initial);
	const changes = taken.flatMap(({ times }, i) => times.map((at) => ({ at, i }))).sort((a, b) => a.at - b.at);
	const out = [`time (s),${lines.map(({ name }) => name).join(',')}`, `${(0).toFixed(decimals)},${levels.join(',')}`];
	changes.forEach(({ at, i }, k) => {
		levels[i] = 1 - levels[i];
		if (changes[k + 1]?.at !== at) out.push(`${(at * recorder.step).toFixed(decimals)},${levels.join(',')}`);
	});
	return `${out.join('\n')}\n`;
}

/** What a sound card hears of a line behind a filter of `tau` seconds: 16 bits, one channel, with noise. */
function heard({ initial, times }: Line, seconds: number, tau: number, seed: number): Buffer {
	const rate = 96_000;
	const noise = random(seed);
	const samples = Buffer.alloc(2 * Math.floor(seconds * rate));
	let [level, at, next, value] = [initial, 0, 0, initial];
	for (let i = 0; i < samples.length / 2; i++) {
		const until = (i + 1) / rate;
		for (; next < times.length && times[next] < until; next++) {
			value = level + (value - level) * Math.exp(-(times[next] - at) / tau);
			[level, at] = [1 - level, times[next]];
		}
		value = level + (value - level) * Math.exp(-(until - at) / tau);
		at = until;
		samples.writeInt16LE(Math.round((value - 0.5) * 60_000 + (noise() - 0.5) * 300), 2 * i);
	}
	const head = Buffer.alloc(44);
	head.write('RIFF', 0);
	head.writeUInt32LE(36 + samples.length, 4);
	head.write('WAVEfmt ', 8);
	[16, 1 | (1 << 16), rate, 2 * rate].forEach((word, i) => head.writeUInt32LE(word, 16 + 4 * i));
	head.writeUInt32LE(2 | (16 << 16), 32);
	head.write('data', 36);
	head.writeUInt32LE(samples.length, 40);
	return Buffer.concat([head, samples]);
}

/** What the wind cups' timer prints for a generator that is stepped from 2 to 200 Hz; at one step it misses every other edge. */
function windLog(): string {
	const derivation = derivePlan(fernhollow());
	const relation = sweepRelations(derivation, 'wind').find(({ id }) => id === 'rate>rate')!;
	const next = random(7);
	const out = ['wind board, self test', 'gen (Hz)  cups (Hz)'];
	for (let i = 0; i < 25; i++) {
		const set = (2 * 10 ** (i / 12)).toFixed(2);
		const [low, high] = relation.at(Rational.parse(set).mul(Rational.parse('1.000004')))!;
		// One of two counts, by where the first edge falls; from 20 ppm of the crystal on all are a little low.
		const read = low.add(high.sub(low).mul(Rational.int(next() < 0.5 ? 0 : 1))).toNumber() / 1.00002;
		out.push(
			`[09:${String(12 + Math.floor(i / 6)).padStart(2, '0')}:${String((i * 10) % 60).padStart(2, '0')}] ${set}  ${(i === 14 ? read / 2 : read).toFixed(3)}`
		);
	}
	out.push('done');
	return `${out.join('\n')}\n`;
}

/** The duty that a meter shows for every fourth count of the knob. */
function knobLog(): string {
	const derivation = derivePlan(fernhollowHand());
	const relation = sweepRelations(derivation, 'knob').find(({ id }) => id === 'count>duty')!;
	const out = ['count;duty (%)'];
	for (let count = 0; count <= relation.high.toNumber(); count += 4)
		out.push(`${count};${(relation.at(Rational.int(count))![0].toNumber() * 100).toFixed(2)}`);
	return `${out.join('\n')}\n`;
}

/** All files of the demo by their names below demo/. */
export function demoFiles(): Map<string, string | Buffer> {
	const files = new Map<string, string | Buffer>();
	const main = waves(fernhollow(), 0.1);
	const line = (key: string, name: string, until: number, move: (at: number) => number = (at) => at): Line => {
		const { initial, times } = main.get(key)!;
		return { name, initial, times: times.filter((at) => at < until).map(move) };
	};
	const fine = { step: 10e-9, ppm: 14, before: 50e-6 };
	const period = 1 / 1200;
	// A third is meant, 33 % was typed: the third heater starts a little early.
	const early = (at: number) => at - (2 / 3 - 0.66) * period;
	files.set(
		'recordings/heaters-staggered.vcd',
		dump(
			[line('heater-a pin', 'heater a', 0.03), line('heater-b pin', 'heater b', 0.03), line('heater-c pin', 'heater c', 0.03, early)],
			{ ...fine, seed: 11 },
			'three dew heaters, one of them a little early'
		)
	);
	files.set(
		'recordings/motor.vcd',
		dump(
			[line('dome-motor main', 'motor high', 0.004), line('dome-motor complementary', 'motor low', 0.004)],
			{ ...fine, seed: 12 },
			'dome motor, both switches'
		)
	);
	files.set('recordings/focus-coil.csv', rows([line('focus-coil pin', 'coil', 0.016)], { ...fine, seed: 13 }));
	files.set('recordings/focus-coil-filtered.wav', heard(line('focus-coil pin', 'coil', 0.1), 0.1, 1e-3, 14));
	files.set(
		'recordings/strobe.vcd',
		dump(
			['clock', 'left', 'right'].map((name) => line(`strobe strobe ${name}`, `strobe ${name}`, 0.0008)),
			{ ...fine, seed: 15 },
			'serial strobe'
		)
	);
	const slow = waves(fernhollow(), 10);
	const long = (key: string, name: string, until: number): Line => ({
		name,
		initial: slow.get(key)!.initial,
		times: slow.get(key)!.times.filter((at) => at < until)
	});
	files.set(
		'recordings/azimuth.csv',
		rows([long('azimuth a', 'azimuth A', 0.6), long('azimuth b', 'azimuth B', 0.6)], { step: 1e-6, ppm: 14, before: 1e-3, seed: 16 })
	);
	files.set(
		'recordings/shutter.vcd',
		dump(
			[long('shutter input', 'dome home', 0.4), long('shutter pin', 'shutter', 0.4)],
			{ step: 1e-6, ppm: 14, before: 1e-3, seed: 17 },
			'a bouncing switch and the shutter’s pulse'
		)
	);
	files.set('recordings/wind.csv', rows([long('wind input', 'wind cups', 10)], { step: 10e-6, ppm: 14, before: 1e-3, seed: 18 }));
	const lamp = waves(fernhollowLamp(), 0.1).get('lamp pin')!;
	files.set('recordings/lamp.vcd', dump([{ ...lamp, name: 'lamp' }], { step: 1e-6, ppm: -18, before: 1e-3, seed: 19 }, 'lamp dimmer'));
	// The prescaler divides by 4, where 1 is planned, and the compare is 9599, where 5999 is: 12 MHz / 4, 30000 ticks a period, 9600 high.
	files.set(
		'recordings/lamp-two-mistakes.vcd',
		dump([steady('lamp', 30_000 / 3e6, 9600 / 3e6, 0.5)], { step: 1e-6, ppm: -18, before: 1e-3, seed: 22 }, 'lamp dimmer, two mistakes')
	);
	files.set(
		'recordings/motor-damaged.vcd',
		dump(
			[damaged(line('dome-motor main', 'motor high', 0.004), 23), line('dome-motor complementary', 'motor low', 0.004)],
			{ ...fine, seed: 24 },
			'dome motor, read with a loose clip'
		)
	);
	const flaps = waves(fernhollowVane(), 0.2);
	files.set(
		'recordings/flaps.csv',
		rows(
			['A', 'B', 'C'].map((flap) => ({ ...flaps.get(`flaps flap ${flap}`)!, name: `flap ${flap}` })),
			{ step: 1e-6, ppm: 9, before: 1e-3, seed: 20 }
		)
	);
	const reading = waves(fernhollowHand(), 0.05).get('reading-lamp pin')!;
	files.set('recordings/reading-lamp.vcd', dump([{ ...reading, name: 'reading lamp' }], { ...fine, seed: 21 }, 'reading lamp'));
	files.set('logs/wind-sweep.txt', windLog());
	files.set('logs/knob-duty.txt', knobLog());
	return files;
}

/** The dome motor for 125 seconds: 5 million edges. */
function* longDump(): Generator<string> {
	yield '$comment dome motor, 5 million edges $end\n$timescale 10 ns $end\n$var wire 1 ! motor_high $end\n$enddefinitions $end\n#0\n0!\n';
	const noise = random(99);
	let piece = '';
	for (let i = 0; i < 2_500_000; i++) {
		const rise = 5000 * i + Math.floor(2 * noise());
		piece += `#${rise + 1}\n1!\n#${rise + 3001}\n0!\n`;
		if (piece.length > 1 << 20) {
			yield piece;
			piece = '';
		}
	}
	yield piece;
}

if (process.argv[1] && import.meta.url === pathToFileURL(process.argv[1]).href) {
	const [, , target] = process.argv;
	if (target !== undefined) writeFileSync(target, [...longDump()].join(''));
	else
		for (const [name, content] of demoFiles()) {
			mkdirSync(join('demo', name, '..'), { recursive: true });
			writeFileSync(join('demo', name), content);
		}
}
