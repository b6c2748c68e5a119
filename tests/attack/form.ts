/** `npm run attack` asks for the long form; `./test` runs the short one. */
export const LONG = process.env.ATTACK === 'long';
/** Draws are the same each time; another seed is named by ATTACK_SEED. */
export const SEED = Number(process.env.ATTACK_SEED ?? 20261126);

/** Whole numbers below `n`, in a fixed order. */
export function draws(seed = SEED): (n: number) => number {
	let state = seed >>> 0;
	return (n) => {
		state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
		return Math.floor((state / 2 ** 32) * n);
	};
}
