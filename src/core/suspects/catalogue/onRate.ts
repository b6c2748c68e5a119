import type { Rational } from '../../exact/index.js';
import { type Plan, planClocks } from '../../plan/index.js';
import type { Changed } from '../change.js';
import type { Group, Scene } from '../scene.js';

/** A group whose timers all run from another rate than was planned: the length of its base cycle changes. */
export function onRate(
	group: Group,
	scene: Scene,
	settings: Plan['clock'],
	{ shared, ...told }: { shared: string; what: string; planned: string; found: string }
): Changed[] {
	const { clocks } = scene.derivation;
	const other = planClocks(scene.plan, settings);
	const nodes = group.aims.flatMap(({ timer }) => (timer ? [timer.kernel] : []));
	const rates = new Set<string>();
	let [factor, ppm]: [Rational | undefined, readonly [number, number]] = [undefined, [0, 0]];
	for (const node of nodes) {
		const [planned, now, off] = [clocks.rate(node), other.rate(node), other.ppm(node)];
		if (!planned || !now) return [];
		factor = planned.div(now);
		rates.add(factor.toString());
		if (off) ppm = [off[0].toNumber(), off[1].toNumber()];
	}
	if (!factor || rates.size !== 1) return [];
	const same = factor.num === factor.den;
	const before = nodes[0] && clocks.ppm(nodes[0]);
	if (same && before && before[0].toNumber() === ppm[0] && before[1].toNumber() === ppm[1]) return [];
	const where = { timer: '', ...told, clock: settings };
	return [{ where, system: group.system, seconds: group.seconds * factor.toNumber(), ppm, shared }];
}

export const scaled = (group: Group, factor: number, found: string, shared?: string): Changed => ({
	where: { timer: group.aims[0]?.aim.timer ?? '', what: 'divisor before the counter', planned: '1', found },
	system: group.system,
	seconds: group.seconds * factor,
	...(shared !== undefined && { shared })
});
