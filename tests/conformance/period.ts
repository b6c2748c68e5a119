import { z } from 'zod';
import type { Prescaler } from '../../src/core/part/index.js';
import { ratioTable, topPeriods } from '../../src/core/solve/index.js';
import { integer, rational, type Check } from './shapes.js';

const given = z.strictObject({
	kernel_hz: rational,
	prescaler: z.union([
		z.strictObject({ linear: integer }),
		z.strictObject({ ladder: z.array(integer) }),
		z.strictObject({ chain: z.array(z.array(integer)) })
	]),
	width: integer,
	mode: z.enum(['up', 'updown']),
	rule: z.enum(['inclusive', 'exclusive']),
	wish_hz: rational,
	max_candidates: integer
});

export const period: Check = (raw) => {
	const g = given.parse(raw);
	const counting = { mode: g.mode, rule: g.rule, width: g.width };
	const wish = { kernel: g.kernel_hz, counting, wish: g.wish_hz };
	const { best, exact } = topPeriods(wish, ratioTable(prescalerOf(g.prescaler)), { keep: g.max_candidates });
	return { best: best.map((c) => ({ p: c.prescale, reload: c.reload, hz: c.hz, ppm: c.ppm })), exact };
};

function prescalerOf(given: { linear: number } | { ladder: number[] } | { chain: number[][] }): Prescaler {
	const ladder = (ratios: number[]): Prescaler => ({ kind: 'ladder', steps: ratios.map((ratio, code) => ({ ratio, code })) });
	if ('linear' in given) return { kind: 'linear', max: given.linear };
	return 'ladder' in given ? ladder(given.ladder) : { kind: 'chain', stages: given.chain.map(ladder) };
}
