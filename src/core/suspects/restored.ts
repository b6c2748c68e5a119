import type { AlignedLine } from '../align/index.js';
import { lowerBound, TraceBuilder, type Level, type Trace } from '../trace/index.js';
import type { Damage } from './damage.js';
import { layAll } from './laying.js';
import type { Witness } from './observed.js';
import type { Group, Scene } from './scene.js';
import { ratioRange, unexplainedLines, type Weighed } from './weigh.js';

/** Edges of a line that a recording may have lost, or made up, as a share of those that lie in their places. */
const SELDOM = 0.1;
/** Edges of a longer line are not looked at one by one. */
const MOST = 20_000;

/**
 * Lines of groups whose edges all lie where the plan has them, but for a few that come in pairs and are missing, or are too many: with those
 * put back or taken out, and what was done. By number of the line. A line without a rhythm shows such damage only beside its plan.
 */
export function restored(
	scene: Scene,
	base: readonly Weighed[],
	groups: readonly Group[]
): Map<number, { witness: Witness; damage: Damage[] }> {
	const broken = unexplainedLines(base);
	const own = groups.filter(({ lines }) => lines.every(({ seen }) => seen.witness.trace.count <= MOST));
	const found = new Map<number, { witness: Witness; damage: Damage[] }>();
	for (const laid of layAll({ ...scene, groups: own }, base, (line) => ratioRange(scene, line))) {
		const { found: aligned, lines } = laid;
		if (!aligned.fits) continue;
		lines.forEach((line, i) => {
			const { witness } = scene.lines[line];
			const made = broken.has(line) ? mendedTrace(witness.trace, aligned.lines[i]) : undefined;
			if (made) found.set(line, { witness: { ...witness, trace: made }, damage: damageOf(witness, aligned.lines[i]) });
		});
	}
	return found;
}

function mendedTrace(trace: Trace, { matched, missing, extra, glitches, off }: AlignedLine): Trace | undefined {
	const odd = missing.length + extra.length;
	if (trace.meta.initial === 2 || odd === 0 || odd > SELDOM * matched.count || off.length > 0) return undefined;
	if (missing.length % 2 === 1 || extra.length !== 2 * glitches.length) return undefined;
	const seconds = trace.meta.unit.toNumber();
	const gone = new Set(glitches.flat().map((time) => Math.round(time / seconds)));
	const times = missing.map((time) => Math.round(time / seconds));
	for (let i = 0; i < trace.count; i++) {
		if (trace.levelAfter(i + 1) === 2) return undefined;
		if (!gone.has(trace.edgeTime(i))) times.push(trace.edgeTime(i));
	}
	times.sort((a, b) => a - b);
	const builder = new TraceBuilder(trace.meta.initial);
	let level: Level = trace.meta.initial;
	for (const time of times) {
		level = level === 0 ? 1 : 0;
		builder.add(time, level);
	}
	return builder.finish(trace.meta);
}

function damageOf({ recording, line }: Witness, { matched, missing, glitches }: AlignedLine): Damage[] {
	const frame = { recording, lines: [line] };
	const edges = matched.edges.subarray(0, matched.count);
	const gaps = missing.filter(
		(time, i) => i === 0 || lowerBound(edges, edges.length, missing[i - 1]) !== lowerBound(edges, edges.length, time)
	);
	return [
		...(missing.length > 0 ? [{ ...frame, code: 'missing-edges' as const, count: gaps.length, at: missing[0] }] : []),
		...(glitches.length > 0 ? [{ ...frame, code: 'extra-glitches' as const, count: glitches.length, at: glitches[0][0] }] : [])
	];
}
