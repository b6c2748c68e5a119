import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { describe, expect, test } from 'vitest';

/** Rooms in the order of the table: a room may import itself's neighbours and what stands on a line above. */
const TABLE: string[][] = [
	['core/exact', 'core/kernels'],
	['core/part', 'core/trace'],
	['core/timer', 'core/measure', 'core/formats', 'core/registers'],
	['core/solve', 'core/sim'],
	['core/aims'],
	['core/plan'],
	['core/predict'],
	['core/align', 'core/check'],
	['core/readings', 'core/handoff'],
	['core/suspects'],
	['workers', 'lib'],
	['routes']
];
const SRC = resolve('src');

interface Import {
	from: string;
	to: string;
}

function filesBelow(folder: string): string[] {
	return readdirSync(folder, { recursive: true, encoding: 'utf8' })
		.filter((name) => /\.(ts|svelte)$/.test(name) && !/\.(test|d)\.ts$/.test(name))
		.map((name) => join(folder, name));
}

function importsOf(file: string): Import[] {
	const text = readFileSync(file, 'utf8');
	const found = [...text.matchAll(/(?:from|import)\s*\(?\s*['"](\.[^'"]+|\$(?:core|lib|workers)[^'"]*)['"]/g)];
	return found.map(([, path]) => {
		const inside = path.startsWith('.')
			? resolve(dirname(file), path)
			: join(SRC, path.replace('$core', 'core').replace('$lib', 'lib').replace('$workers', 'workers'));
		return { from: relative(SRC, file), to: relative(SRC, inside).replace(/\.js$/, '.ts') };
	});
}

function roomOf(path: string): string {
	const [top, second] = path.split('/');
	return top === 'core' ? `core/${second}` : top;
}

const files = filesBelow(SRC);
const all = files.flatMap(importsOf).filter(({ to }) => !to.startsWith('..') && !to.startsWith('routes/$') && !to.includes('$types'));
const rank = (room: string) => TABLE.findIndex((line) => line.includes(room));

describe('imports', () => {
	test('there are imports to look at, and every room of the table that exists is seen', () => {
		expect(all.length).toBeGreaterThan(100);
		expect(new Set(files.map((f) => roomOf(relative(SRC, f))))).toContain('core/exact');
	});

	test('go down the table only', () => {
		const upward = all.filter(({ from, to }) => {
			const [a, b] = [rank(roomOf(from)), rank(roomOf(to))];
			return a >= 0 && b >= 0 && roomOf(from) !== roomOf(to) && b > a;
		});
		expect(upward).toEqual([]);
	});

	test('of another core room go through its index', () => {
		const inside = all.filter(
			({ from, to }) => to.startsWith('core/') && roomOf(from) !== roomOf(to) && !/^core\/[a-z]+\/index\.ts$/.test(to)
		);
		expect(inside).toEqual([]);
	});

	test('of the core are nothing but the core, and libraries of plain data', () => {
		const outside = files
			.filter((f) => relative(SRC, f).startsWith('core/'))
			.flatMap((f) => [...readFileSync(f, 'utf8').matchAll(/from\s+'([^.'][^']*)'/g)].map(([, name]) => `${relative(SRC, f)}: ${name}`))
			.filter((line) => !/: (zod|fast-deep-equal|saxes)$/.test(line));
		expect(outside).toEqual([]);
	});

	test('of the server stay on the server', () => {
		const leaks = all.filter(
			({ from, to }) => to.startsWith('lib/server') && !from.startsWith('lib/server') && !/(server\.ts|hooks\.server\.ts)$/.test(from)
		);
		expect(leaks).toEqual([]);
	});

	test('in the interface go down its layers, and between stations only to the frame and the clock’s own fields', () => {
		const RANK: Record<string, number> = { text: 0, wave: 0, session: 1, components: 2, features: 3 };
		const inside = all.filter(({ from, to }) => from.startsWith('lib/') && to.startsWith('lib/') && !from.startsWith('lib/server/'));
		const [layer, station] = [(path: string) => path.split('/')[1], (path: string) => path.split('/')[2]];
		// The words of a kind lie with its sentence; the table of all kinds' words is where they come together.
		const upward = inside.filter(
			({ from, to }) => layer(from) !== layer(to) && !(RANK[layer(from)] > RANK[layer(to)]) && from !== 'lib/text/kinds.ts'
		);
		expect(upward).toEqual([]);
		const across = inside.filter(({ from, to }) => layer(from) === 'features' && layer(to) === 'features' && station(from) !== station(to));
		expect(across.filter(({ to }) => station(to) !== 'frame' && to !== 'lib/features/clock/clockFields.ts')).toEqual([]);
	});

	test('make no cycle between rooms of the core', () => {
		const edges = new Map<string, Set<string>>();
		for (const { from, to } of all) {
			const [a, b] = [roomOf(from), roomOf(to)];
			if (a !== b && a.startsWith('core/') && b.startsWith('core/')) edges.set(a, (edges.get(a) ?? new Set()).add(b));
		}
		const reaches = (from: string, wanted: string, seen = new Set<string>()): boolean =>
			[...(edges.get(from) ?? [])].some((next) => next === wanted || (!seen.has(next) && reaches(next, wanted, seen.add(next))));
		expect([...edges.keys()].filter((room) => reaches(room, room))).toEqual([]);
	});
});
