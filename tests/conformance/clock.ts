import { z } from 'zod';
import { resolveClock, type SetNode } from '../../src/core/part/index.js';
import { integer, rational, type Check } from './shapes.js';

const base = { id: z.string(), min: rational.optional(), max: rational.optional() };
const node = z.discriminatedUnion('kind', [
	z.strictObject({ ...base, kind: z.literal('source'), hz: rational, ppm_lo: rational, ppm_hi: rational }),
	z.strictObject({ ...base, kind: z.literal('divide'), from: z.string(), by: integer }),
	z.strictObject({ ...base, kind: z.literal('multiply'), from: z.string(), by: rational }),
	z.strictObject({ ...base, kind: z.literal('select'), from: z.array(z.string()), pick: z.string() }),
	z.strictObject({
		...base,
		kind: z.literal('follow'),
		from: z.string(),
		watch: z.string(),
		table: z.array(z.tuple([integer, rational])),
		otherwise: rational
	}),
	z.strictObject({ ...base, kind: z.literal('gate'), from: z.string(), on: z.boolean() })
]);
const given = z.strictObject({ nodes: z.array(node) });

export const clock: Check = (raw) => {
	const nodes = given.parse(raw).nodes.map((n): SetNode => {
		if (n.kind !== 'source') return n;
		const { ppm_lo, ppm_hi, ...rest } = n;
		return { ...rest, ppmLo: ppm_lo, ppmHi: ppm_hi };
	});
	const { rates, findings } = resolveClock(nodes);
	const running = [...rates].filter(([, rate]) => rate.ppm !== null);
	return {
		hz: Object.fromEntries([...rates].map(([id, rate]) => [id, rate.hz])),
		ppm: Object.fromEntries(running.map(([id, rate]) => [id, rate.ppm])),
		findings: findings.map((f) => [f.node, f.limit])
	};
};
