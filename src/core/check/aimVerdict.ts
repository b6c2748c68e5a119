import { Rational, type Ppm } from '../exact/index.js';
import { kindOf, type AimDerivation, type PlannedQuantity } from '../aims/index.js';
import { measurePulses } from '../measure/index.js';
import type { PlanClocks } from '../plan/index.js';
import type { Trace } from '../trace/index.js';
import { holdAgainst, plannedBudget, recordingPart, type Measured, type RecordingStep } from './budget.js';
import { measureQuantity } from './measured.js';
import { judge, type Held, type Outcome, type Verdict } from './verdict.js';

/** A recorded line that shows a line of an aim. */
export interface ShownLine {
	recording: string;
	line: string;
	role: string;
	trace: Trace;
	step: RecordingStep;
	instrument: Ppm;
}

/** One planned quantity beside what was measured of it. */
export interface JudgedQuantity {
	of: PlannedQuantity['of'];
	/** The role of the line, and of the one that it is measured from. */
	role: string;
	against?: string;
	recording: string;
	line: string;
	unit: PlannedQuantity['unit'];
	planned: Rational;
	/** Left out where the recording has no value of it. */
	measured?: Rational;
	count: number;
	asSet?: Held;
	/** Left out where nothing was wished. */
	asWished?: Held;
}

export interface AimVerdict {
	asSet: Outcome;
	asWished: Outcome;
	reasons: NonNullable<Verdict['reason']>[];
	quantities: JudgedQuantity[];
}

const RELATED: PlannedQuantity['of'][] = ['delay', 'phase', 'gap'];

/** Holds all lines that show an aim against it, quantity by quantity (timers.md 11, 13). `beside`: another aim's pin in the same recording, by "leader" or "first". */
export function judgeAim(
	derivation: AimDerivation,
	clocks: PlanClocks,
	lines: readonly ShownLine[],
	beside: (role: string, recording: string) => ShownLine | undefined = () => undefined
): AimVerdict {
	const outcomes: [Outcome, Outcome][] = [];
	const reasons: AimVerdict['reasons'] = [];
	const quantities: JudgedQuantity[] = [];
	const planned = derivation.timer && derivation.use ? kindOf(derivation.aim).expect(derivation) : [];
	for (const line of lines) {
		const { start, end, unit } = line.trace.meta;
		const role = planned.some((one) => one.line === line.role) ? line.role : planned[0]?.line;
		const measured = measurePulses(line.trace, { start, end: end + 1 });
		const evidence = { measured, window: unit.mul(Rational.int(end - start)), step: line.step, instrument: line.instrument };
		const own = judge(derivation, clocks, evidence, role);
		// What is not steady is judged by its laying, not here.
		if (own.reason !== 'not-steady' && own.reason !== 'no-plan') {
			outcomes.push([own.asSet, own.asWished]);
			if (own.reason) reasons.push(own.reason);
		}
		for (const { of, measured: value, count, asSet, asWished } of own.quantities) {
			const known = planned.find((one) => one.of === of && one.line === role);
			if (!known) continue;
			const parts = { recording: line.recording, line: line.line, role: line.role, unit: known.unit, planned: known.planned };
			quantities.push({ of: known.of, ...parts, measured: value, count, asSet, ...(asWished && { asWished }) });
		}
		for (const one of planned.filter((each) => each.line === role && each.against !== undefined && RELATED.includes(each.of))) {
			const other =
				lines.find((each) => each.role === one.against && each.recording === line.recording) ?? beside(one.against!, line.recording);
			const judged = other && judgeRelated(one, line, other, clocks.ppm(derivation.timer!.kernel) ?? [Rational.zero, Rational.zero]);
			if (!judged) continue;
			quantities.push(judged);
			if (judged.asSet)
				outcomes.push([judged.asSet.explained ? 'within' : 'outside', (judged.asWished ?? judged.asSet).within ? 'within' : 'outside']);
		}
	}
	return { asSet: worstOf(outcomes.map(([set]) => set)), asWished: worstOf(outcomes.map(([, wished]) => wished)), reasons, quantities };
}

/** Outside, then undecided, then within; undecided without any. */
export function worstOf(outcomes: readonly Outcome[]): Outcome {
	if (outcomes.includes('outside')) return 'outside';
	return outcomes.includes('undecided') || outcomes.length === 0 ? 'undecided' : 'within';
}

function judgeRelated(planned: PlannedQuantity, line: ShownLine, other: ShownLine, source: [Ppm, Ppm]): JudgedQuantity | undefined {
	if (!line.trace.meta.unit.equals(other.trace.meta.unit)) return undefined;
	const { start, end } = line.trace.meta;
	const of = planned.of as Measured;
	const found = measureQuantity({ of, trace: line.trace, against: other.trace, planned: planned.planned }, { start, end: end + 1 });
	const recording = found && recordingPart(of, line.step, found);
	const frame = {
		of: planned.of,
		role: line.role,
		against: planned.against!,
		recording: line.recording,
		line: line.line,
		unit: planned.unit,
		planned: planned.planned
	};
	if (!found || !recording) return { ...frame, count: 0 };
	const measured = found.found.mean;
	const hold = (against: Rational) =>
		holdAgainst(measured, against, plannedBudget(planned, against, { source, recording, instrument: line.instrument }));
	return {
		...frame,
		measured,
		count: found.found.count,
		asSet: hold(planned.planned),
		...(planned.wish && { asWished: hold(planned.wish) })
	};
}
