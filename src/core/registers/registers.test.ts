import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Hardware } from '../../../tests/unit/hardware.js';
import { change, Memory, readBack, readBinding, readQuantityOf, setUp, type Binding, type QuantityValue } from './index.js';

const EXAMPLE = {
	blocks: {
		CLOCKS: {
			base: '0x40010000',
			registers: {
				FEEDCTL: { at: 0, unlock: 'KEYHOLE=0x5EA1C0DE' },
				GATES: 8,
				KEYHOLE: { at: 12, write: 'only', '1-acts': 'all' }
			}
		},
		TIMERB: {
			base: '0x40000000',
			registers: {
				RUNCTL: { at: 0, fields: { GO: '0', WAY: '5:4' } },
				EVENTS: { at: 12, '1-acts': 'all' },
				COUNT: 20,
				TICKDIV: 24,
				TOPVAL: 28
			}
		},
		TIMERC: { like: 'TIMERB', base: '0x40000800' }
	},
	units: {
		clock: {
			block: 'CLOCKS',
			values: {
				'clock:loop': { in: 'FEEDCTL[22:16]', as: 'v-8', before: 'FEEDCTL[24]=0' },
				'clock:loop:on': { in: 'FEEDCTL[24]', after: 'FEEDCTL[25]==code' }
			}
		},
		'timer-b': {
			block: 'TIMERB',
			values: {
				gate: 'CLOCKS.GATES[1]',
				run: 'RUNCTL[GO]',
				mode: { in: 'RUNCTL[WAY]', as: { up: 0, down: 1, updown: 2 } },
				prescale: { in: 'TICKDIV[15:0]', as: 'v-1' },
				reload: 'TOPVAL',
				count: 'COUNT',
				'flag:update': 'EVENTS[0]'
			}
		},
		'timer-c': { like: 'timer-b', block: 'TIMERC', values: { gate: 'CLOCKS.GATES[2]' } }
	}
};

function bound(raw: unknown): Binding {
	const { binding, findings } = readBinding(raw);
	if (!binding) throw new Error(JSON.stringify(findings));
	return binding;
}
const wants = (of: Record<string, Record<string, QuantityValue>>) =>
	new Map(Object.entries(of).map(([unit, own]) => [unit, new Map(Object.entries(own))]));
const faultsOf = (raw: unknown) => readBinding(raw).findings;
/** One register A at 0, and C at 4, of 32 bits each, with one value of unit t. */
const small = (values: object, registers: object = {}, more: object = {}) => ({
	blocks: { B: { base: 0, registers: { A: 0, C: 4, ...registers } } },
	units: { t: { block: 'B', values, ...more } }
});

describe('a set-up', () => {
	test('is the example of handoff.md 10, access by access', () => {
		const { accesses, findings } = setUp(bound(EXAMPLE), wants({ 'timer-b': { mode: 'up', prescale: 72, reload: 99_999 } }));
		const told = accesses.map((one) => [one.do, one.reg.split('.')[1], ...(one.do === 'read' ? [] : [one.value, one.mask])]);
		const whole = 0xffff_ffff;
		expect(told).toEqual([
			['read', 'GATES'],
			['write', 'GATES', 2, 2],
			['read', 'RUNCTL'],
			['write', 'RUNCTL', 0, 1],
			['write', 'COUNT', 0, whole],
			['read', 'TICKDIV'],
			['write', 'TICKDIV', 71, 0xffff],
			['read', 'RUNCTL'],
			['write', 'RUNCTL', 0, 0x30],
			['write', 'TOPVAL', 99_999, whole],
			['write', 'EVENTS', 1, whole],
			['read', 'RUNCTL'],
			['write', 'RUNCTL', 1, 1]
		]);
		expect(findings).toEqual([]);
	});

	test('is kept by hardware that obeys the rules, and read back from it', () => {
		const binding = bound(EXAMPLE);
		const rows = fc.record({
			mode: fc.constantFrom('up', 'down', 'updown'),
			prescale: fc.integer({ min: 1, max: 65_536 }),
			reload: fc.integer({ min: 0, max: 0xffff_ffff })
		});
		fc.assert(
			fc.property(rows, rows, fc.integer({ min: 8, max: 135 }), (b, c, factor) => {
				const plan = wants({ clock: { 'clock:loop': factor, 'clock:loop:on': 1 }, 'timer-b': b, 'timer-c': c });
				const hardware = new Hardware(binding);
				hardware.do(setUp(binding, plan).accesses);
				const { quantities, findings } = readBack(binding, hardware.memory());
				for (const [unit, own] of plan)
					for (const [quantity, value] of own) expect([quantity, quantities.get(unit)!.get(quantity)]).toEqual([quantity, value]);
				expect([quantities.get('timer-b')!.get('run'), quantities.get('timer-c')!.get('run')]).toEqual([1, 1]);
				expect(findings.filter(([code]) => code !== 'stray')).toEqual([]);
			}),
			{ numRuns: 60, seed: 16 }
		);
	});

	test('a change lists its own accesses alone, and remembers what was written whole', () => {
		const binding = bound(small({ mode: 'A[1:0]', 'compare:a': 'A[15:8]' }, { A: { at: 0, write: 'only', reset: 0 } }));
		const before = wants({ t: { mode: 3, 'compare:a': 7 } });
		const { accesses, findings } = change(binding, wants({ t: { 'compare:a': 9 } }), before);
		expect(accesses).toEqual([
			{ do: 'write', step: 'compares', reg: 'B.A', address: 0, bits: 32, value: 0x903, mask: 0xffff_ffff, for: ['t.compare:a'] }
		]);
		expect(findings).toEqual([]);
	});
});

describe('a binding that is not understood', () => {
	test.each<[string, unknown, unknown]>([
		['nothing at all', 5, [['bad-shape', '']]],
		['a key of its own at the top', { unit: {} }, [['bad-shape', '']]],
		['a width that there is not', { bits: 12 }, [['bad-shape', '']]],
		['a register without a place', { blocks: { B: { base: 0, registers: { A: {} } } } }, [['bad-shape', 'B.A']]],
		['a base left out', { blocks: { B: { registers: {} } } }, [['bad-shape', 'B']]],
		['a block like none', { blocks: { B: { like: 'C', base: 0 } } }, [['unknown-name', 'B']]],
		['beyond all addresses', { blocks: { B: { base: '0xFFFF_FFFC', registers: { A: 0, C: 4 } } } }, [['outside', 'B.C']]],
		['a bit that acts on both', small({}, { A: { at: 0, '1-acts': '3:0', '0-acts': '3' } }), [['overlap', 'B.A']]],
		['a password too long', small({}, { A: { at: 0, always: { '3:0': 16 } } }), [['no-fit', 'B.A']]],
		['known without reset', small({}, { A: { at: 0, known: 1 } }), [['bad-shape', 'B.A']]],
		[
			'what unlocks each other',
			small({}, { A: { at: 0, unlock: 'C=1' }, C: { at: 4, lock: 'A=1' } }),
			[
				['circle', 'B.A'],
				['circle', 'B.C']
			]
		],
		[
			'what leads into a circle',
			small({}, { A: { at: 0, unlock: 'C=1' }, C: { at: 4, unlock: 'C=1' } }),
			[
				['circle', 'B.A'],
				['circle', 'B.C']
			]
		],
		['an unlock with a code', small({}, { A: { at: 0, unlock: 'C=code' } }), [['bad-shape', 'B.A']]],
		['a quantity that there is not', small({ colour: 'A' }), [['unknown-name', 't.colour']]],
		['a register that there is not', small({ reload: 'X' }), [['unknown-name', 't.reload']]],
		['a bit twice', small({ reload: ['A[3:0]', 'A[5:3]'] }), [['overlap', 't.reload']]],
		['more than 64 bits', small({ reload: ['A', 'C', 'D'] }, { D: 8 }), [['outside', 't.reload']]],
		['bits the wrong way round', small({ reload: 'A[0:3]' }), [['outside', 't.reload']]],
		['a code too large', small({ mode: { in: 'A[1:0]', as: { up: 4 } } }), [['no-fit', 't.mode']]],
		['a formula of its own', small({ mode: { in: 'A', as: 'v*v' } }), [['bad-shape', 't.mode']]],
		['an as without a place', small({ mode: { do: {}, as: 'v-1' } }), [['bad-shape', 't.mode']]],
		['a with that is not run’s', small({ mode: { with: 'reload', off: 0 }, reload: 'A' }), [['bad-shape', 't.mode']]],
		['a with that names nothing', small({ run: { with: 'prescale', off: 0 } }), [['unknown-name', 't.run']]],
		['an off too large', small({ run: { with: 'prescale', off: 4 }, prescale: 'A[1:0]' }), [['no-fit', 't.run']]],
		['null where nothing is dropped', small({ reload: null }), [['bad-shape', 't.reload']]],
		['a word that is no step', small({}, {}, { order: ['tree', 'dance'] }), [['order', 't']]],
		['an unknown block', { units: { t: { block: 'B' } } }, [['unknown-name', 't']]],
		// The first round with a finding is the last.
		['a fault of an earlier round', { blocks: { B: { base: 0, registers: { A: 1 } } }, units: { t: 5 } }, [['unaligned', 'B.A']]]
	])('%s', (_, raw, findings) => {
		expect(faultsOf(raw)).toEqual(findings);
	});

	test('never ends in anything but findings, whatever stands in it (seed 3)', () => {
		const leaf = fc.oneof(
			fc.constant(null),
			fc.integer(),
			fc.string({ maxLength: 6 }),
			fc.constantFrom('A', 'A[3:0]', 'v-1', 'code', 'B.A=1', 'all', 'only')
		);
		const keys = [
			'bits',
			'bytes',
			'order',
			'blocks',
			'units',
			'like',
			'base',
			'registers',
			'at',
			'write',
			'block',
			'values',
			'in',
			'as',
			'do',
			'with',
			'off',
			'B',
			't',
			'A',
			'run',
			'mode',
			'unlock',
			'fields',
			'always'
		];
		const { any } = fc.letrec((tie) => ({
			any: fc.oneof(
				{ maxDepth: 6, depthSize: 'medium' },
				leaf,
				fc.array(tie('any'), { maxLength: 3 }),
				fc.dictionary(fc.constantFrom(...keys), tie('any'), { maxKeys: 5 })
			)
		}));
		fc.assert(
			fc.property(any, (raw) => {
				const { binding, findings } = readBinding(raw);
				expect(binding === undefined).toBe(findings.length > 0);
			}),
			{ numRuns: 3000, seed: 3 }
		);
	});
});

describe('back from a dump', () => {
	test('a byte told twice is missing, and says so', () => {
		const memory = new Memory();
		memory.put(0, [1, 2, 3, 4]);
		memory.put(2, [9]);
		expect(readBack(bound(small({ reload: 'A', 'compare:a': 'C[7:0]' })), memory).findings).toEqual([
			['contradiction', 2],
			['missing', 'B.A'],
			['missing', 'B.C']
		]);
	});
	test('the bytes that hold a value’s bits are enough for it', () => {
		const memory = new Memory();
		memory.put(1, [0x5a]);
		const { quantities } = readBack(bound(small({ 'compare:a': 'A[15:8]', 'compare:b': 'A[7:0]' })), memory);
		expect([...quantities.get('t')!]).toEqual([['compare:a', 0x5a]]);
	});
	test('reading in halves goes in the order that latches', () => {
		const binding = bound({
			bits: 8,
			blocks: { B: { base: 16, registers: { HI: 1, LO: 0 } } },
			units: { t: { block: 'B', values: { count: { in: ['HI', 'LO'], read: 'last-first' } } } }
		});
		expect(readQuantityOf(binding, 't.count').accesses.map(({ address }) => address)).toEqual([16, 17]);
		expect(readQuantityOf(binding, 't.reload').findings).toEqual([['no-place', 't.reload']]);
	});
});
