import { readTime } from '../core/aims/index.js';
import { Rational, type Seconds } from '../core/exact/index.js';
import { edgePieces, vcdPieces, type EdgeLine } from '../core/formats/index.js';
import { derivePlan, type PlanDerivation } from '../core/plan/index.js';
import { pinLines, planSystem } from '../core/predict/index.js';
import { Predictor } from '../core/sim/index.js';
import { commandText, lineName, problemText } from '../lib/text/index.js';
import { endProgress, readPlanFile, tellProgress, Unreadable, writePieces } from './files.js';

/** Moments between two words on how far it is. */
const STEP = 200_000;

/** Predicts all planned pins from 0 on and writes them. Returns the exit code. Throws Unreadable. */
export async function predict(file: string, options: { for: string; vcd?: string; csv?: string }): Promise<number> {
	const time = readTime(options.for);
	if (!time.ok) throw new Unreadable(`--for ${options.for}: ${problemText(time.problem)}`);
	const plan = await readPlanFile(file);
	const lines = predictLines(derivePlan(plan), time.value);
	if (lines.length === 0) throw new Unreadable(commandText.nothingPlanned);
	if (options.vcd !== undefined)
		await writePieces(options.vcd, vcdPieces(lines, Rational.zero, time.value, commandText.dumpComment(plan.name)));
	if (options.csv !== undefined || options.vcd === undefined)
		await writePieces(options.csv, edgePieces(lines, Rational.zero, time.value, commandText.timeColumn));
	return 0;
}

function predictLines(derivation: PlanDerivation, time: Seconds): EdgeLine[] {
	const planned = planSystem(derivation);
	const predictor = new Predictor(planned.system, planned.unit);
	const until = Number(-time.div(planned.unit).neg().floor());
	while (!predictor.runTo(until, STEP)) tellProgress(commandText.progress(predictor.reached / until));
	endProgress();
	const names = new Map(derivation.plan.aims.map(({ id, name }) => [id, name]));
	return pinLines(derivation, planned, predictor.prediction()).map(({ aim, role, source }) => ({
		name: lineName(names.get(aim) ?? aim, role),
		source
	}));
}
