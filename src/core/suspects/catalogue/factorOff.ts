import type { Mistake } from '../change.js';
import { onRate } from './onRate.js';

/** A multiplier or a divider of the tree set to the value beside the right one, to one, or left at reset. */
export const factorOff: Mistake = {
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
