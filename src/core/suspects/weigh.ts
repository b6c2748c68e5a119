import type { Observed } from './observed.js';
import type { Compared } from './compare.js';
import type { Changed } from './change.js';
import { compareGroup, predict, residualsOf, type Group, type Scene } from './scene.js';
import type { Course } from './course.js';

const PPM = 1e-6;

/** How well a setting of a group agrees with what was recorded of it. */
export interface Weighed {
	all: Compared[];
	residuals: number[];
	/** The greatest residual: at most 1, and the setting explains the group. */
	worst: number;
	squares: number;
	/** What each of the group's lines is predicted to do, and their numbers among all. */
	courses: (Course | undefined)[];
	lines: number[];
}

/** Within rounding of the last place a residual of 1 is no more than that. */
const EXPLAINED = 1 + 1e-6;

export const isExplained = (residual: number): boolean => residual <= EXPLAINED;

export const explains = ({ worst }: { worst: number }): boolean => isExplained(worst);

/** Each group as it is planned. */
export function weighAll(scene: Scene): Weighed[] {
	return scene.groups.map((group) => weigh(scene, group));
}

/** Lines of which something is not explained. */
export function unexplainedLines(weighed: readonly Weighed[]): Set<number> {
	return new Set(weighed.flatMap(({ all, residuals }) => all.flatMap(({ line }, i) => (isExplained(residuals[i]) ? [] : [line]))));
}

/** A group as planned, or as a mistake would make it. */
export function weigh(scene: Scene, group: Group, changed?: Pick<Changed, 'system' | 'seconds' | 'ppm'>): Weighed {
	const setting = { system: changed?.system ?? group.system, seconds: changed?.seconds ?? group.seconds };
	const near = weighCourses(scene, group, predict(group, setting), changed?.ppm);
	// What explains as far as it was followed is followed further before it is believed.
	if (!changed || !explains(near) || !near.courses.some((course) => course?.cut)) return near;
	return weighCourses(scene, group, predict(group, setting, true), changed.ppm);
}

export function weighCourses(
	scene: Scene,
	group: Group,
	courses: readonly (Course | undefined)[],
	ppm: readonly [number, number] = sourceOf(scene, group)
): Weighed {
	const all = compareGroup(group, courses);
	const range = (seen: Observed) => rangeOf(seen, ppm);
	return { all, courses: [...courses], lines: group.lines.map(({ number }) => number), ...residualsOf(all, scene.lines, range) };
}

/** Ratios of the recorder's clock over the plan's that source and instrument allow together. */
function rangeOf({ witness }: Observed, ppm: readonly [number, number]): readonly [number, number] {
	const own = witness.instrument.toNumber() * PPM;
	return [(1 - own) / (1 + ppm[1] * PPM), (1 + own) / (1 + ppm[0] * PPM)];
}

/** The same of a line as the plan stands. */
export function ratioRange(scene: Scene, line: number): readonly [number, number] {
	const group = scene.groups.find(({ lines }) => lines.some(({ number }) => number === line));
	return rangeOf(scene.lines[line], group ? sourceOf(scene, group) : [0, 0]);
}

/** What the group's clock source may be off by, in ppm. */
function sourceOf({ derivation }: Scene, { aims }: Group): readonly [number, number] {
	const node = aims.find(({ timer }) => timer)?.timer?.kernel;
	const ppm = node === undefined ? null : derivation.clocks.ppm(node);
	return ppm ? [ppm[0].toNumber(), ppm[1].toNumber()] : [0, 0];
}
