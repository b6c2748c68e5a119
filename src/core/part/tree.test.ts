import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Rational } from '../exact/index.js';
import { ClockTreeError, resolveClock, type SetNode } from './index.js';

/** Random trees of every kind of node: each seed hangs one node on those before it. */
const seed = fc.record({
	kind: fc.constantFrom('source', 'divide', 'multiply', 'select', 'follow', 'gate'),
	a: fc.nat(),
	b: fc.nat(),
	num: fc.integer({ min: 1, max: 10_000 }),
	den: fc.integer({ min: 1, max: 64 }),
	on: fc.boolean(),
	min: fc.option(fc.integer({ min: 1, max: 2 ** 30 })),
	max: fc.option(fc.integer({ min: 1, max: 2 ** 30 }))
});
type Seed = typeof seed extends fc.Arbitrary<infer T> ? T : never;
const seeds = fc.array(seed, { minLength: 1, maxLength: 30 });

function build(all: Seed[]): SetNode[] {
	return all.reduce<SetNode[]>((nodes, one, i) => [...nodes, nodeOf(one, `n${i}`, nodes)], []);
}

function nodeOf({ kind, a, b, num, den, on, min, max }: Seed, id: string, before: SetNode[]): SetNode {
	const base = { id, ...(min !== null && { min: Rational.int(min) }), ...(max !== null && { max: Rational.int(max) }) };
	const from = before[a % Math.max(1, before.length)]?.id;
	if (kind === 'source' || from === undefined)
		return { ...base, kind: 'source', hz: Rational.ratio(num * 1000, den), ppmLo: Rational.int(-den), ppmHi: Rational.int(den) };
	const other = before[b % before.length].id;
	switch (kind) {
		case 'divide':
			return { ...base, kind, from, by: den };
		case 'multiply':
			return { ...base, kind, from, by: Rational.ratio(num, den) };
		case 'select':
			return { ...base, kind, from: [from, other], pick: on ? from : other };
		case 'follow':
			return { ...base, kind, from, watch: other, table: [[den, Rational.ratio(num, 7)]], otherwise: Rational.ratio(3, den) };
		case 'gate':
			return { ...base, kind, from, on };
	}
}

type Fraction = [bigint, bigint] | null;

/** The slow twin: every rate by recursion, in fractions that are never reduced. */
function textbook(nodes: SetNode[], id: string): Fraction {
	const node = nodes.find((n) => n.id === id)!;
	if (node.kind === 'source') return [node.hz.num, node.hz.den];
	if (node.kind === 'gate' && !node.on) return null;
	const input = textbook(nodes, node.kind === 'select' ? node.pick : node.from);
	if (!input) return null;
	const times = (num: bigint, den: bigint): Fraction => [input[0] * num, input[1] * den];
	if (node.kind === 'divide') return times(1n, BigInt(node.by));
	if (node.kind === 'multiply') return times(node.by.num, node.by.den);
	if (node.kind !== 'follow') return input;
	const watched = nodes.find((n) => n.id === node.watch)!;
	const row = watched.kind === 'divide' ? node.table.find(([setting]) => setting === watched.by) : undefined;
	const factor = row ? row[1] : node.otherwise;
	return times(factor.num, factor.den);
}

describe('resolveClock on random trees', () => {
	test('gives what text-book fractions give, in any order of the nodes (seed 71)', () => {
		fc.assert(
			fc.property(seeds, fc.infiniteStream(fc.nat()), (all, order) => {
				const nodes = build(all);
				const stirred = nodes.map((node) => ({ node, key: order.next().value as number })).sort((a, b) => a.key - b.key);
				const { rates } = resolveClock(stirred.map(({ node }) => node));
				for (const { id } of nodes) {
					const want = textbook(nodes, id);
					const got = rates.get(id)!.hz;
					expect(got === null).toBe(want === null);
					if (got && want) expect(got.num * want[1]).toBe(want[0] * got.den);
				}
			}),
			{ seed: 71, numRuns: 500 }
		);
	});

	test('reports every limit passed just once, and none that is kept (seed 72)', () => {
		fc.assert(
			fc.property(seeds, (all) => {
				const nodes = build(all);
				const { rates, findings } = resolveClock(nodes);
				const want = nodes.flatMap(({ id, min, max }) => {
					const hz = rates.get(id)!.hz;
					if (!hz) return [];
					return [...(max && hz.sub(max).sign > 0 ? [`${id} max`] : []), ...(min && min.sub(hz).sign > 0 ? [`${id} min`] : [])];
				});
				expect(findings.map((f) => `${f.node} ${f.limit}`)).toEqual(want.sort());
			}),
			{ seed: 72, numRuns: 500 }
		);
	});

	test('finds a cycle wherever one link is turned back, and only then (seed 73)', () => {
		fc.assert(
			fc.property(seeds, fc.nat(), fc.nat(), (all, x, y) => {
				const nodes = build(all);
				const at = x % nodes.length;
				const node = nodes[at];
				if (node.kind === 'source' || node.kind === 'select') return;
				// Whatever hangs on the node, itself included, may not feed it.
				const behind = new Set([node.id]);
				for (const other of nodes) {
					const from =
						other.kind === 'source'
							? []
							: other.kind === 'select'
								? other.from
								: other.kind === 'follow'
									? [other.from, other.watch]
									: [other.from];
					if (from.some((id) => behind.has(id))) behind.add(other.id);
				}
				const target = nodes[y % nodes.length].id;
				const turned = nodes.with(at, { ...node, from: target });
				const run = () => resolveClock(turned);
				if (behind.has(target)) expect(run).toThrow(ClockTreeError);
				else expect(run).not.toThrow();
			}),
			{ seed: 73, numRuns: 1000 }
		);
	});
});
