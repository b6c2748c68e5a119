import type { Mistake } from '../change.js';
import { onRate } from './onRate.js';

/** Another input of a selector. */
export const otherSource: Mistake = {
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
