import { describe, expect, test } from 'vitest';
import { hzAt, ladderMarks, layLadder, yOf, type LadderNode } from './ladder.js';

const node = (id: string, hz: number | null, feeders: string[] = [], more: Partial<LadderNode> = {}): LadderNode => ({
	id,
	feeders,
	hz,
	reset: hz,
	min: undefined,
	max: undefined,
	height: 30,
	weight: 0,
	...more
});

describe('layLadder', () => {
	test('hangs nodes by the logarithm of their rate: equal factors are equal steps', () => {
		const { rungs } = layLadder([node('a', 8e6), node('b', 16e6, ['a']), node('c', 32e6, ['b'])], 800, 500);
		const [a, b, c] = ['a', 'b', 'c'].map((id) => rungs.get(id)!.y!);
		expect(a - b).toBeCloseTo(b - c, 6);
		expect(b).toBeLessThan(a);
	});
	test('columns are the longest way from a source, in any order of the nodes', () => {
		const { rungs, pitch } = layLadder(
			[node('s', 1e6, ['a', 'c']), node('c', 1e6, ['b']), node('b', 1e6, ['a']), node('a', 1e6)],
			800,
			500
		);
		const column = (id: string) => Math.round((rungs.get(id)!.x - rungs.get('a')!.x) / pitch);
		expect(['a', 'b', 'c', 's'].map(column)).toEqual([0, 1, 2, 3]);
	});
	test('labels of equal rates are pushed apart and stay inside', () => {
		const { rungs } = layLadder(
			Array.from({ length: 8 }, (_, i) => node(`n${i}`, 72e6)),
			800,
			400
		);
		const tops = [...rungs.values()].map((r) => r.labelY!).sort((a, b) => a - b);
		for (let i = 1; i < tops.length; i++) expect(tops[i] - tops[i - 1]).toBeGreaterThanOrEqual(30 - 1e-9);
		expect(tops[0]).toBeGreaterThanOrEqual(0);
		expect(tops[7] + 30).toBeLessThanOrEqual(400);
	});
	test('no label lies over a rung of its column, nor over another label', () => {
		// Two of one rate, a third close below them, and a fourth between two others: as buses and their timers are.
		const rates = [72e6, 72e6, 36e6, 34e6, 9e6, 8e6, 7.9e6];
		const { rungs } = layLadder(
			rates.map((hz, i) => node(`n${i}`, hz, [], { height: 34, weight: i % 3 })),
			1000,
			520
		);
		const shown = [...rungs.values()].filter((rung) => rung.labelY !== undefined);
		expect(shown.length).toBe(rates.length);
		for (const { id, labelY, labelEnd } of shown) {
			for (const { y } of shown) expect([id, y! > labelY! && y! < labelEnd!]).toEqual([id, false]);
			for (const other of shown)
				if (other.id !== id)
					expect([id, other.id, other.labelY! < labelEnd! - 0.01 && other.labelEnd! > labelY! + 0.01]).toEqual([id, other.id, false]);
		}
	});
	test('where there is no room for all labels the weightiest have one', () => {
		const many = Array.from({ length: 2000 }, (_, i) => node(`n${i}`, 1e6 + i, [], { weight: i === 1234 ? 1 : 0 }));
		const { rungs } = layLadder(many, 800, 400);
		const labelled = [...rungs.values()].filter((r) => r.labelY !== undefined);
		expect(labelled.length).toBeLessThanOrEqual(13);
		expect(rungs.get('n1234')!.labelY).toBeDefined();
	});
	test('a stopped node has no place, a limit beyond the ruler no cap', () => {
		const { rungs } = layLadder([node('a', 8e6, [], { min: 4e6, max: 1e30 }), node('b', null, ['a'])], 800, 400);
		expect(rungs.get('b')!.y).toBeUndefined();
		expect(rungs.get('a')!.minY).toBeDefined();
		expect(rungs.get('a')!.maxY).toBeUndefined();
	});
	test('1e30 Hz leaves the ruler readable', () => {
		const { scale } = layLadder([node('a', 8e6), node('b', 1e30), node('c', 16e6)], 800, 400);
		expect(scale.breaks.length).toBe(1);
		expect(yOf(scale, 8e6) - yOf(scale, 16e6)).toBeGreaterThan(5);
		expect(yOf(scale, 1e30)).toBeLessThan(yOf(scale, 16e6));
	});
	test('5,000 nodes in one chain are laid out', () => {
		const chain = Array.from({ length: 5000 }, (_, i) => node(`n${i}`, 1e6, i ? [`n${i - 1}`] : [])).reverse();
		const { rungs, pitch } = layLadder(chain, 800, 400);
		expect(Math.round((rungs.get('n4999')!.x - rungs.get('n0')!.x) / pitch)).toBe(4999);
	});
});

test('hzAt undoes yOf, in every stretch, and the marks are those of the stretches', () => {
	const { scale } = layLadder([node('slow', 32768), node('a', 8e6), node('b', 72e6)], 800, 480);
	expect(scale.breaks.length).toBe(1);
	for (const hz of [32768, 8e6, 9e6, 72e6]) expect(hzAt(scale, yOf(scale, hz)) / hz).toBeCloseTo(1, 6);
	const labels = ladderMarks(scale).flatMap((m) => m.label ?? []);
	expect(labels).toContain('10 MHz');
	expect(labels).not.toContain('200 kHz');
	// The measure is the same in every stretch: 72 to 36 MHz is as far as 20 to 10 MHz.
	expect(yOf(scale, 36e6) - yOf(scale, 72e6)).toBeCloseTo(yOf(scale, 10e6) - yOf(scale, 20e6), 6);
});
