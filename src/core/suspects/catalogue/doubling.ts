import type { Mistake } from '../change.js';
import { scaled } from './onRate.js';

/** The bus clock's doubling left out of account, or counted on where there is none. */
export function doubling(code: string, usual: number, factor: number, found: string): Mistake {
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
