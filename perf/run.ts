import { benchAims } from './aims.js';
import { benchCheck } from './check.js';
import { benchClock } from './clock.js';
import { benchHandoff, benchSvd } from './handoff.js';
import { benchImports, benchLongLine } from './imports.js';
import { benchLists } from './lists.js';
import { benchPan } from './pan.js';
import { benchParse } from './parse.js';
import { benchPeriods } from './period.js';
import { benchRecordings } from './recordings.js';
import { report } from './report.js';
import { benchScene } from './scene.js';
import { benchSim } from './sim.js';

/** All benchmarks, or those whose names are given: each prints `name value unit`. The parsers go first: peak memory is the process's. */
const BENCHES = {
	vcd: () => benchParse(report, 'vcd'),
	csv: () => benchParse(report, 'csv'),
	period: () => benchPeriods(report),
	aims: () => benchAims(report),
	clock: () => benchClock(report),
	check: () => benchCheck(report),
	handoff: () => benchHandoff(report),
	svd: () => benchSvd(report),
	scene: () => benchScene(report),
	sim: () => benchSim(report),
	lists: () => benchLists(report),
	recordings: () => benchRecordings(report),
	imports: () => benchImports(report),
	long: () => benchLongLine(report),
	pan: () => benchPan(report)
};

const asked = process.argv.slice(2);
for (const [name, run] of Object.entries(BENCHES)) if (asked.length === 0 || asked.includes(name)) await run();
