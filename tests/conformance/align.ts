import { z } from 'zod';
import { align as lay } from '../../src/core/align/index.js';
import { MILLION, Rational } from '../../src/core/exact/index.js';
import { integer, rational, type Check } from './shapes.js';

const level = z.union([z.literal(0), z.literal(1)]);
const given = z.strictObject({
	plan: z.strictObject({ initial: level, edges_ps: z.array(integer), period_ps: integer.optional() }),
	recorded: z.strictObject({ initial: level, edges_ps: z.array(integer), from_ps: integer, to_ps: integer }),
	ratio_ppm: z.tuple([rational, rational]),
	glitch_ps: integer,
	budget_ps: integer
});
const whole = integer.transform((value) => Rational.int(value));
const range = z.tuple([rational, rational]);
const expected = z.union([
	z.strictObject({ fits: z.literal(false) }),
	z.object({
		fits: z.literal(true),
		offset_ps: z.tuple([whole, whole]),
		ratio_ppm: range
	})
]);

/** What is found is written as the range that it must lie in, where it does. */
export const align: Check = (raw, expect) => {
	const { plan, recorded, ratio_ppm, glitch_ps: glitch, budget_ps: budget } = given.parse(raw);
	const ratio = ratio_ppm.map((ppm) => 1 + ppm.div(MILLION).toNumber()) as [number, number];
	const found = lay(
		[
			{
				plan: { initial: plan.initial, times: plan.edges_ps, ...(plan.period_ps !== undefined && { period: plan.period_ps }) },
				recorded: { initial: recorded.initial, times: recorded.edges_ps, from: recorded.from_ps, to: recorded.to_ps }
			}
		],
		{ ratio, budget, glitch }
	);
	if (!found.fits) return { fits: false };
	const wanted = expected.parse(expect);
	const [line] = found.lines;
	const within = (value: number, name: 'offset_ps' | 'ratio_ppm') => {
		if (!wanted.fits) return value;
		const [low, high] = wanted[name];
		// A double's own rounding is no reason to lie outside.
		const slack = 1e-6 * Math.max(1, Math.abs(value) * 1e-6);
		const inside = value >= low.toNumber() - slack && value <= high.toNumber() + slack;
		return inside ? (expect as Record<string, unknown>)[name] : `${value}, ${low.toString()} to ${high.toString()} wanted`;
	};
	return {
		fits: true,
		matched: line.matched.count,
		missing: line.missing.length,
		extra: line.extra.length,
		glitches: line.glitches.length,
		off: line.off.length,
		offset_ps: within(found.laying.offset, 'offset_ps'),
		ratio_ppm: within((found.laying.ratio - 1) * 1e6, 'ratio_ppm')
	};
};
