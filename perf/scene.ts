import { Rational } from '../src/core/exact/index.js';
import { TraceBuilder, type Level } from '../src/core/trace/index.js';
import { columnWorkspace, laneScene } from '../src/lib/wave/index.js';
import type { Report } from './report.js';

const EDGES = 10_000_000;
const COLUMNS = 1280;

/** One lane of 1280 columns over 10 million edges: at every zoom from all of them to a few, mean ms a scene, and the worst. */
export function benchScene(report: Report): void {
	const builder = new TraceBuilder(0);
	let time = 0;
	for (let i = 0; i < EDGES; i++) {
		time += 1000 + ((i * 7919) % 3001);
		builder.add(time, ((i + 1) % 2) as Level);
	}
	const trace = builder.finish({ unit: Rational.of(1n, 10n ** 12n), start: 0, end: time });
	const workspace = columnWorkspace(COLUMNS);
	const placement = { offsetPs: 0, unitPs: 1 };
	const views = Array.from({ length: 60 }, (_, i) => {
		const span = time / 1.25 ** i;
		return { start: (time - span) * ((i * 0.37) % 1), perColumn: span / COLUMNS, columns: COLUMNS };
	});
	for (const view of views) laneScene(trace, placement, view, workspace);
	let worst = 0;
	let sum = 0;
	for (let round = 0; round < 10; round++) {
		for (const view of views) {
			const start = performance.now();
			laneScene(trace, placement, view, workspace);
			const took = performance.now() - start;
			worst = Math.max(worst, took);
			sum += took;
		}
	}
	report('wave_scene_10M', sum / (10 * views.length), 'ms');
	report('wave_scene_10M_worst', worst, 'ms');
}
