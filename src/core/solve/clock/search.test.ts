import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Rational } from '../../exact/index.js';
import {
	factorAt,
	factorCount,
	partProfile,
	resolveClock,
	setClock,
	shippedPart,
	type ClockNodeProfile,
	type ClockSetting,
	type ClockSettings,
	type PartProfile,
	type SetNode
} from '../../part/index.js';
import { RateSearch, type RateAnswer, type RateQuestion, type RateWish } from './index.js';

const r = (text: string) => Rational.parse(text);

function searchAll(question: RateQuestion, keep: number): RateAnswer[] {
	const search = new RateSearch(question, keep);
	// Odd small steps: where it stands between them must not matter.
	while (!search.step(7).done);
	return search.best();
}

const base = { min: undefined, max: undefined };
const smallFactor = fc.uniqueArray(fc.integer({ min: 1, max: 6 }), { minLength: 1, maxLength: 3 });
const seedNode = fc.record({
	kind: fc.constantFrom('divide', 'divide', 'multiply', 'select', 'follow', 'gate'),
	pick: fc.nat(),
	other: fc.nat(),
	by: smallFactor,
	floor: fc.constantFrom(null, null, null, null, 2, 10, 30),
	ceiling: fc.constantFrom(null, null, 50, 120, 400),
	on: fc.boolean()
});

/** A random sound tree over two sources of 60 and 100 Hz. */
function treeOf(seeds: (typeof seedNode extends fc.Arbitrary<infer T> ? T : never)[]): ClockNodeProfile[] {
	const source = (id: string, hz: string): ClockNodeProfile => ({
		id,
		name: id,
		...base,
		kind: 'source',
		hz,
		ppm: { lo: '0', hi: '0' },
		chosen: true
	});
	const nodes = [source('s0', '60'), source('s1', '100')];
	seeds.forEach(({ kind, pick, other, by, floor, ceiling, on }, i) => {
		const from = nodes[pick % nodes.length].id;
		const limits = {
			min: floor === null ? undefined : { hz: String(floor), why: '' },
			max: ceiling === null || ceiling < (floor ?? 0) ? undefined : { hz: String(ceiling), why: '' }
		};
		const head = { id: `n${i}`, name: `n${i}`, ...limits };
		const dividers = nodes.filter((n) => n.kind === 'divide');
		if (kind === 'divide' || kind === 'multiply') nodes.push({ ...head, kind, from, by, reset: by[0] });
		else if (kind === 'gate') nodes.push({ ...head, kind, from, reset: on });
		else if (kind === 'select') nodes.push({ ...head, kind, from: [...new Set([from, nodes[other % nodes.length].id])], reset: from });
		else if (dividers.length > 0)
			nodes.push({ ...head, kind: 'follow', from, watch: dividers[other % dividers.length].id, table: [[1, '1']], otherwise: '2' });
	});
	return nodes;
}

function optionsOf(node: ClockNodeProfile, planned: SetNode): ClockSetting[] {
	if (node.kind === 'divide' || node.kind === 'multiply')
		return Array.from({ length: factorCount(node.by) }, (_, i) => factorAt(node.by, i));
	if (node.kind === 'select') return [...node.from];
	return node.kind === 'gate' ? [...new Set([true, planned.kind === 'gate' && planned.on])] : [];
}

const sameSetting = (a: ClockSetting, b: ClockSetting) => (a instanceof Rational && b instanceof Rational ? a.equals(b) : a === b);
const settingOf = (node: SetNode): ClockSetting =>
	node.kind === 'divide'
		? Rational.int(node.by)
		: node.kind === 'multiply'
			? node.by
			: node.kind === 'select'
				? node.pick
				: node.kind === 'gate' && node.on;

/** Every setting of the whole tree, kept if legal, as its costs and changes: the slow twin. */
function bruteForce({ part, planned, wishes, held }: RateQuestion): { costs: Rational[]; changes: number }[] {
	const free = part.clock.filter((node) => !held.has(node.id) && optionsOf(node, planned[part.clock.indexOf(node)]).length > 0);
	const fixed: ClockSettings = {};
	for (const node of planned) if (held.has(node.id) && node.kind !== 'source' && node.kind !== 'follow') fixed[node.id] = settingOf(node);
	const best = new Map<string, { costs: Rational[]; changes: number }>();
	const visit = (i: number, settings: ClockSettings): void => {
		if (i < free.length) {
			for (const option of optionsOf(free[i], planned[part.clock.indexOf(free[i])])) visit(i + 1, { ...settings, [free[i].id]: option });
			return;
		}
		const { nodes } = setClock(part, settings);
		const judged = judgeSetting(nodes, planned, wishes);
		const known = judged && best.get(judged.key);
		if (judged && (!known || judged.changes < known.changes)) best.set(judged.key, judged);
	};
	visit(0, fixed);
	return [...best.values()].sort(
		(a, b) => a.costs.map((c, i) => c.compare(b.costs[i])).find((order) => order !== 0) ?? a.changes - b.changes
	);
}

/** undefined when a wish that must hold does not, or something touched passes a limit. `key`: the settings that the wishes hang on. */
function judgeSetting(nodes: SetNode[], planned: readonly SetNode[], wishes: readonly RateWish[]) {
	const byId = new Map(nodes.map((node) => [node.id, node]));
	const { rates, findings } = resolveClock(nodes);
	const feeders = (node: SetNode) =>
		node.kind === 'source' ? [] : node.kind === 'select' ? [node.pick] : node.kind === 'follow' ? [node.from, node.watch] : [node.from];
	const active = new Set<string>();
	const waiting = wishes.flatMap((wish) => (wish.kind === 'equal' ? [wish.node, wish.to] : [wish.node]));
	for (let id = waiting.pop(); id !== undefined; id = waiting.pop()) {
		if (!active.has(id)) waiting.push(...feeders(byId.get(id)!));
		active.add(id);
	}
	const touched = new Set(active);
	for (const node of nodes) if (feeders(node).some((id) => touched.has(id))) touched.add(node.id);
	if ([...active].some((id) => rates.get(id)!.hz === null) || findings.some((f) => touched.has(f.node))) return undefined;
	const costs: Rational[] = [];
	let nearest: number | undefined;
	for (const wish of wishes) {
		const hz = rates.get(wish.node)!.hz!;
		if (wish.kind === 'exactly' && !hz.equals(wish.hz)) return undefined;
		if (wish.kind === 'multiple' && !hz.div(wish.hz).isInteger) return undefined;
		if (wish.kind === 'equal' && !hz.equals(rates.get(wish.to)!.hz!)) return undefined;
		if (wish.kind === 'highest') costs.push(hz.neg());
		if (wish.kind === 'lowest') costs.push(hz);
		if (wish.kind === 'nearest') {
			const off = hz.sub(wish.hz).div(wish.hz).abs();
			if (nearest === undefined) nearest = costs.push(off) - 1;
			else costs[nearest] = costs[nearest].add(off);
		}
	}
	const settable = nodes.filter((node) => node.kind !== 'source' && node.kind !== 'follow');
	const changes = settable.filter((node) => !sameSetting(settingOf(node), settingOf(planned.find((p) => p.id === node.id)!))).length;
	const key = settable
		.filter((node) => active.has(node.id))
		.map((node) => `${node.id} ${String(settingOf(node))}`)
		.join(';');
	return { costs, changes, key };
}

const wishSeed = fc.record({
	at: fc.nat(),
	kind: fc.constantFrom('exactly', 'nearest', 'nearest', 'multiple', 'equal', 'highest', 'lowest'),
	hz: fc.constantFrom(5, 10, 20, 30, 37, 50, 60, 100, 121),
	to: fc.nat()
});

describe('against all settings of small random trees', () => {
	test('the same costs and changes, in the same order (seed 31)', () => {
		let found = 0;
		fc.assert(
			fc.property(
				fc.array(seedNode, { minLength: 2, maxLength: 7 }),
				fc.array(wishSeed, { minLength: 1, maxLength: 3 }),
				fc.nat(),
				(seeds, asked, hold) => {
					const clock = treeOf(seeds);
					const part = { ...shippedPart('sprat-8')!, clock, core: 's0', timers: [], pins: [] } as PartProfile;
					expect(partProfile.safeParse(part).success).toBe(true);
					const planned = setClock(part, {}).nodes;
					const wishes = asked.map(({ at, kind, hz, to }): RateWish => {
						const node = clock[at % clock.length].id;
						if (kind === 'equal') return { node, kind, to: clock[to % clock.length].id };
						return kind === 'highest' || kind === 'lowest' ? { node, kind } : { node, kind: kind as 'nearest', hz: Rational.int(hz) };
					});
					const held = new Set(hold % 3 === 0 ? [clock[hold % clock.length].id] : []);
					const question = { part, planned, wishes, held };
					const slow = bruteForce(question).slice(0, 6);
					const fast = searchAll(question, 6);
					found += fast.length;
					const judged = fast.map(({ settings }) =>
						judgeSetting(setClock(part, { ...closedGates(planned), ...settings }).nodes, planned, wishes)
					);
					expect(judged.map((j) => j && [...j.costs.map(String), j.changes])).toEqual(slow.map((s) => [...s.costs.map(String), s.changes]));
					expect(fast.map((a) => a.changed.length)).toEqual(slow.map((s) => s.changes));
				}
			),
			{ seed: 31, numRuns: 1000 }
		);
		expect(found).toBeGreaterThan(300);
	});
});

function closedGates(planned: readonly SetNode[]): ClockSettings {
	return Object.fromEntries(planned.filter((n) => n.kind === 'gate' && !n.on).map((n) => [n.id, false]));
}

describe('on Heron-32', () => {
	const part = shippedPart('heron-32')!;
	const settings = { crystal: r('12000000') };
	const planned = setClock(part, settings).nodes;
	const ask = (wishes: RateWish[], held: string[] = []) => searchAll({ part, planned, wishes, held: new Set(held) }, 10);

	test('two buses equal and at 72 MHz: the doubling is made use of', () => {
		const answers = ask([
			{ node: 'timers-a', kind: 'equal', to: 'timers-b' },
			{ node: 'timers-b', kind: 'highest' }
		]);
		expect(answers[0].met.map((m) => String(m.hz))).toEqual(['72000000/1', '72000000/1']);
		// Bus A may not pass 36 MHz: its timers reach 72 MHz only by the doubling.
		expect(String(answers[0].settings['bus-a'])).toBe('2/1');
		expect(resolveClock(setClock(part, { ...settings, ...answers[0].settings }).nodes).findings).toEqual([]);
	});
	test('what is held stays, and what it forbids is no answer', () => {
		const wish: RateWish = { node: 'core', kind: 'exactly', hz: r('72000000') };
		expect(ask([wish]).length).toBe(10);
		// From the internal 8 MHz: 8 / in x loop / out = 72 has ways too, but not with the core run from it directly.
		expect(ask([wish], ['core-source'])).toEqual([]);
	});
	test('refuses a wish on a node that is not there, or for nothing', () => {
		expect(() => ask([{ node: 'gone', kind: 'highest' }])).toThrow('there is no clock node "gone"');
		expect(() => ask([{ node: 'core', kind: 'nearest', hz: Rational.zero }])).toThrow(RangeError);
	});
	test('1e30 Hz is answered with the highest there is', () => {
		expect(String(ask([{ node: 'core', kind: 'nearest', hz: r('1e30') }])[0].met[0].hz)).toBe('72000000/1');
	});
});
