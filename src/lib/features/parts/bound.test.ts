import { describe, expect, test } from 'vitest';
import { withBlocks } from '../../../core/formats/index.js';
import { shippedParts } from '../../../core/part/index.js';
import { filesWork } from '../../../workers/files.js';
import { readFileSync } from 'node:fs';
import { readBinding } from '../../../core/registers/index.js';
import { blockOf, boundOf, placedAt, placesOf, unplaced } from './bound.js';

const describeFile = (text: string | Uint8Array<ArrayBuffer>) => filesWork.describe(new Blob([text]), () => 'on');

describe('the checklist of bindings', () => {
	test.each(shippedParts().map((part) => [part.id, part] as const))('%s lacks nothing; without units it lacks all', (_, part) => {
		for (const one of boundOf(part)) expect([one.unit, one.lacks]).toEqual([one.unit, []]);
		const bare = boundOf({ ...part, binding: { ...(part.binding as object), units: {} } });
		expect(bare.every(({ has, lacks }) => has === 0 && lacks.length > 0)).toBe(true);
	});
});

describe('blocks of a description', () => {
	test('of the same name are said anew, all else stays', async () => {
		const { blocks, findings } = await describeFile(readFileSync('demo/registers/sprat-8.svd', 'utf8'));
		expect(findings).toEqual([]);
		const before = { bits: 8, units: { a: {} }, blocks: { CLOCKS: { base: '0x1' }, OWN: { base: '0x2' } } };
		const after = withBlocks(before, { CLOCKS: blocks.CLOCKS, PINS: blocks.PINS });
		expect(Object.keys(after.blocks as object)).toEqual(['CLOCKS', 'OWN', 'PINS']);
		expect(after).toMatchObject({ bits: 8, units: { a: {} }, blocks: { CLOCKS: blocks.CLOCKS, OWN: { base: '0x2' } } });
	});

	test('a file that is none says why and where; one that is stopped says so', async () => {
		expect(await describeFile('<device>\n<name>x</device>')).toMatchObject({ blocks: {}, trouble: { line: 2 } });
		expect(await describeFile(Uint8Array.of(0xff, 0xfe, 0x00))).toMatchObject({ trouble: { code: 'encoding' } });
		expect(await filesWork.describe(new Blob(['<device/>']), () => 'drop')).toMatchObject({ stopped: true });
	});
});

test('a quantity is put at a place with its codes, and taken away again, also from what another unit gave it', () => {
	const binding = {
		units: { a: { block: 'A', values: { mode: { in: 'R[0]', as: { up: 0 } } } }, b: { like: 'a', block: 'B' }, c: { like: 'b' } }
	};
	const moved = placedAt(binding, 'a', 'A', 'mode', 'R[5:4]');
	expect(moved.units).toMatchObject({ a: { values: { mode: { in: 'R[5:4]', as: { up: 0 } } } } });
	expect(placedAt({}, 'd', 'D', 'reload', 'TOP')).toEqual({ units: { d: { block: 'D', values: { reload: 'TOP' } } } });
	expect((unplaced(binding, 'a', 'mode').units as typeof binding.units).a.values).toEqual({});
	expect(unplaced(binding, 'b', 'mode').units).toMatchObject({ b: { values: { mode: null } } });
	expect(['a', 'b', 'c', 'd'].map((unit) => blockOf(binding, unit))).toEqual(['A', 'B', 'B', undefined]);
});

test('a number that is cut over two registers is put piece by piece', () => {
	const empty = { bits: 8, blocks: { T: { base: 0, registers: { TOPHI: 0, TOPLO: 1, MORE: 2 } } }, units: {} };
	const first = placedAt(empty, 'timer-1', 'T', 'reload', 'TOPHI');
	const piecesOf = (binding: object) => readBinding(binding).binding!.units.get('timer-1')!.values.get('reload')!;
	const more = readBinding(first).binding!.blocks.get('T')!.registers;
	const second = placedAt(
		first,
		'timer-1',
		'T',
		'reload',
		placesOf([...piecesOf(first).pieces, { register: more.get('TOPLO')!, high: 7, low: 0 }], 'T')
	);
	const third = placedAt(
		second,
		'timer-1',
		'T',
		'reload',
		placesOf([...piecesOf(second).pieces, { register: more.get('MORE')!, high: 3, low: 2 }], 'T')
	);
	expect([piecesOf(second).width, piecesOf(third).width]).toEqual([16, 18]);
	expect(third.units).toMatchObject({ 'timer-1': { values: { reload: ['TOPHI', 'TOPLO', 'MORE[3:2]'] } } });
	expect(placesOf(piecesOf(third).pieces, 'OTHER')).toEqual(['T.TOPHI', 'T.TOPLO', 'T.MORE[3:2]']);
});
