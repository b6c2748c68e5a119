import { readFileSync } from 'node:fs';
import { align } from '../src/core/align/index.js';
import { judgeAim } from '../src/core/check/index.js';
import { Rational } from '../src/core/exact/index.js';
import { readAll } from '../src/core/formats/index.js';
import { derivePlan, fernhollow } from '../src/core/plan/index.js';
import { checkStepwise, type Witness } from '../src/core/suspects/index.js';
import { TraceBuilder } from '../src/core/trace/index.js';
import type { Report } from './report.js';

/** A long recording laid and matched, a long line judged, and all suspects of Fernhollow's plan against the recordings of its aims. */
export async function benchCheck(report: Report): Promise<void> {
	benchAlign(report, 5_000_000);
	benchVerdict(report, 10_000_000);
	await benchSuspects(report);
}

const RUNS = 5;

function medianOf(run: () => void): number {
	const took = Array.from({ length: RUNS }, () => {
		const began = performance.now();
		run();
		return performance.now() - began;
	});
	return took.sort((a, b) => a - b)[Math.floor(RUNS / 2)];
}

function benchAlign(report: Report, edges: number): void {
	const times = new Float64Array(edges);
	for (let k = 0; k < edges / 2; k++) {
		times[2 * k] = 1234 + k * 10_000.7 + ((k * 7919) % 5);
		times[2 * k + 1] = times[2 * k] + 3500;
	}
	const recorded = { initial: 0 as const, times, from: 0, to: times[edges - 1] + 100 };
	const took = medianOf(() => {
		const found = align([{ plan: { initial: 0, times: [0, 3500], period: 10_000 }, recorded }], {
			ratio: [0.9998, 1.0002],
			budget: 12,
			glitch: 50
		});
		if (!found.fits || found.lines[0].matched.count < edges) throw new Error('it was not laid');
	});
	report('align_5M', took, 'ms');
}

/** Heater A: 1.2 kHz, high for 35 %, in steps of 10 ns. */
function benchVerdict(report: Report, edges: number): void {
	const builder = new TraceBuilder(0);
	for (let k = 0; k < edges / 2; k++) {
		builder.add(Math.round(100 + k * 83_333.33), 1);
		builder.add(Math.round(100 + k * 83_333.33 + 29_166.67), 0);
	}
	const end = Math.round(100 + (edges / 2) * 83_333.33);
	const unit = Rational.of(1n, 100_000_000n);
	const trace = builder.finish({ unit, start: 0, end });
	const { aims, clocks } = derivePlan(fernhollow());
	const heater = aims.find(({ aim }) => aim.id === 'heater-a')!;
	const took = medianOf(() => {
		const verdict = judgeAim(heater, clocks, [
			{ recording: 'r', line: 'l', role: 'pin', trace, step: { step: unit }, instrument: Rational.int(20) }
		]);
		if (verdict.asWished !== 'within') throw new Error(`heater A is ${verdict.asWished}`);
	});
	report('verdict_10M', took, 'ms');
}

/** Recordings of the demo, and which line of which aim each of their lines shows. */
const RECORDED: [file: string, line: string, aim: string, role: string][] = [
	['heater-half-rate.vcd', 'heater_a', 'heater-a', 'pin'],
	['heaters-staggered.vcd', 'heater_b', 'heater-b', 'pin'],
	['heaters-staggered.vcd', 'heater_c', 'heater-c', 'pin'],
	['motor.vcd', 'motor_high', 'dome-motor', 'main'],
	['motor.vcd', 'motor_low', 'dome-motor', 'complementary'],
	['focus-coil.csv', 'coil', 'focus-coil', 'pin'],
	['shutter.vcd', 'dome_home', 'shutter', 'trigger'],
	['shutter.vcd', 'shutter', 'shutter', 'pin'],
	['strobe.vcd', 'strobe_clock', 'strobe', 'strobe clock'],
	['strobe.vcd', 'strobe_left', 'strobe', 'strobe left'],
	['strobe.vcd', 'strobe_right', 'strobe', 'strobe right']
];

async function benchSuspects(report: Report): Promise<void> {
	const witnesses: Witness[] = [];
	for (const [file, name, aim, role] of RECORDED) {
		const open = async function* () {
			await Promise.resolve();
			yield readFileSync(`demo/recordings/${file}`);
		};
		const { recording } = await readAll({ open, settings: {} });
		const { trace } = recording.lines.find((line) => line.name === name)!;
		witnesses.push({ recording: file, line: name, aim, role, trace, step: { step: recording.resolution }, instrument: Rational.int(50) });
	}
	const began = performance.now();
	let verdicts: number | undefined;
	let first: number | undefined;
	const steps = checkStepwise(fernhollow(), witnesses, ({ findings }) => {
		const now = performance.now() - began;
		verdicts ??= now;
		if (findings.suspects.length > 0) first ??= now;
	});
	for (let step = steps.next(); ; step = steps.next())
		if (step.done) {
			if (step.value.findings.suspects.length === 0) throw new Error('nobody is suspected');
			break;
		}
	report('suspects_plan_10_verdicts', verdicts ?? NaN, 'ms');
	report('suspects_plan_10_first', first ?? NaN, 'ms');
	report('suspects_plan_10', performance.now() - began, 'ms');
}
