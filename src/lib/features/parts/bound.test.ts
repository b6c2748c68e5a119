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

test('a number that is cut over registers is put piece by piece', () => {
	const empty = { bits: 8, blocks: { T: { base: 0, registers: { TOPHI: 0, TOPLO: 1, MORE: 2 } } }, units: {} };
	const registers = readBinding(empty).binding!.blocks.get('T')!.registers;
	const reloadOf = (binding: object) => readBinding(binding).binding!.units.get('timer-1')?.values.get('reload');
	const below = (binding: Record<string, unknown>, register: string, high: number, low: number) => {
		const pieces = [...(reloadOf(binding)?.pieces ?? []), { register: registers.get(register)!, high, low }];
		return placedAt(binding, 'timer-1', 'T', 'reload', placesOf(pieces, 'T'));
	};
	const two = below(below(empty, 'TOPHI', 7, 0), 'TOPLO', 7, 0);
	const three = below(two, 'MORE', 3, 2);
	expect([reloadOf(two)!.width, reloadOf(three)!.width]).toEqual([16, 18]);
	expect(three.units).toMatchObject({ 'timer-1': { values: { reload: ['TOPHI', 'TOPLO', 'MORE[3:2]'] } } });
	expect(placesOf(reloadOf(three)!.pieces, 'OTHER')).toEqual(['T.TOPHI', 'T.TOPLO', 'T.MORE[3:2]']);
});
