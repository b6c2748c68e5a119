import { readable } from '../../core/readings/index.js';
import type { PlanDerivation } from '../../core/plan/index.js';
import { readQuantityName, roleText } from '../text/index.js';

/** A quantity of the plan that somebody can read off. */
export type ReadOffer = ReturnType<typeof readOffers>[number];

/** Every quantity of the plan that can be read off, with its name. */
export function readOffers({ aims }: PlanDerivation) {
	return aims.flatMap((one) =>
		readable(one).map((planned) => {
			const { of, line, against } = planned;
			const { id: aim, name } = one.aim;
			const role = line === 'pin' ? '' : `, ${roleText(line)}`;
			return {
				key: offerKey({ aim, of, line }),
				aim,
				of,
				line,
				planned,
				name: `${name || 'unnamed aim'}: ${readQuantityName(of)}${role}${against === undefined ? '' : ` to ${against}`}`
			};
		})
	);
}

/** Tells the offers apart. */
export function offerKey({ aim, of, line }: { aim: string; of: string; line: string }): string {
	return `${aim} ${of} ${line}`;
}
