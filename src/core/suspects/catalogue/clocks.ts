import { planClocks, type Plan } from '../../plan/index.js';
import type { Rational } from '../../exact/index.js';
import type { Changed, Mistake } from '../change.js';
import type { Group, Scene } from '../scene.js';

/** A group whose timers all run from another rate than was planned: the length of its base cycle changes. */
function onRate(
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

/** No setting of the clock tree was made at all. */
const atReset: Mistake = {
	code: 'clock-at-reset',
	usual: 7,
	of: (group, scene) => onRate(group, scene, {}, { shared: 'reset', what: 'clock', planned: 'as set', found: 'as at reset' })
};

/** Another input of a selector. */
const otherSource: Mistake = {
	code: 'other-source',
	usual: 9,
	of: (group, scene) =>
		scene.plan.part.clock.flatMap((node) => {
			if (node.kind !== 'select') return [];
			const now = scene.plan.clock[node.id] ?? node.reset;
			return node.from
				.filter((from) => from !== now)
				.flatMap((from) =>
					onRate(
						group,
						scene,
						{ ...scene.plan.clock, [node.id]: from },
						{ shared: `${node.id} ${from}`, what: node.id, planned: now, found: from }
					)
				);
		})
};

/** A multiplier or a divider of the tree set to the value beside the right one, to one, or left at reset. */
const factorOff: Mistake = {
	code: 'multiplier-off',
	usual: 10,
	of: (group, scene) =>
		scene.plan.part.clock.flatMap((node) => {
			if (node.kind !== 'multiply' && node.kind !== 'divide') return [];
			const now = Number(scene.plan.clock[node.id] ?? node.reset);
			if (!Number.isFinite(now)) return [];
			const values =
				node.kind === 'multiply'
					? [now - 1, now + 1, 1, 2 * now, now / 2, Number(node.reset)]
					: [now - 1, now + 1, 1, 2 * now, now / 2, node.reset];
			return [...new Set(values)]
				.filter((value) => value !== now && value >= 1)
				.flatMap((value) =>
					onRate(
						group,
						scene,
						{ ...scene.plan.clock, [node.id]: String(value) },
						{
							shared: `${node.id} ${value}`,
							what: node.id,
							planned: String(now),
							found: String(value)
						}
					)
				);
		})
};

const scaled = (group: Group, factor: number, found: string, shared?: string): Changed => ({
	where: { timer: group.aims[0]?.aim.timer ?? '', what: 'divisor before the counter', planned: '1', found },
	system: group.system,
	seconds: group.seconds * factor,
	...(shared !== undefined && { shared })
});

/** The bus clock's doubling left out of account, or counted on where there is none. */
function doubling(code: string, usual: number, factor: number, found: string): Mistake {
	return {
		code,
		usual,
		of: (group) => {
			const link = group.aims.flatMap(({ clock }) => clock).find(({ node }) => node.kind === 'follow');
			const twice = link?.factor !== undefined && link.factor.toNumber() > 1;
			return link && twice === (code === 'doubling-forgotten') ? [scaled(group, factor, found)] : [];
		}
	};
}

/** The divisor in front of the counter. */
const tickDivisor: Mistake = {
	code: 'tick-divisor-wrong',
	usual: 24,
	of: (group) => [2, 4, 8, 12].flatMap((by) => [scaled(group, by, String(by)), scaled(group, 1 / by, `1/${by}`)])
};

export const clockMistakes: Mistake[] = [
	atReset,
	doubling('doubling-forgotten', 8, 0.5, '2'),
	doubling('doubling-assumed', 8, 2, '1/2'),
	otherSource,
	factorOff,
	tickDivisor
];
