import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Rational } from '../exact/index.js';
import { clockPath, ClockTreeError, resolveClock, setClock, shippedPart, type SetNode } from './index.js';

const r = (text: string) => Rational.parse(text);
const source = (id: string, hz: string): SetNode => ({ id, kind: 'source', hz: r(hz), ppmLo: r('-50'), ppmHi: r('50') });

describe('resolveClock', () => {
	test('follows the bus divider: x1 at 1, x2 at 2 and 4', () => {
		const tree = (by: number): SetNode[] => [
			{ id: 'timer', kind: 'follow', from: 'bus', watch: 'bus', table: [[1, r('1')]], otherwise: r('2') },
			{ id: 'bus', kind: 'divide', from: 'core', by },
			source('core', '72000000')
		];
		const timer = (by: number) => resolveClock(tree(by)).rates.get('timer')!.hz!.toString();
		expect([1, 2, 4].map(timer)).toEqual(['72000000/1', '72000000/1', '36000000/1']);
	});

	test('a stopped node stops all behind it and gives no finding', () => {
		const { rates, findings } = resolveClock([
			source('x', '8000000'),
			{ id: 'g', kind: 'gate', from: 'x', on: false },
			{ id: 'd', kind: 'divide', from: 'g', by: 2, min: r('1') }
		]);
		expect(rates.get('d')).toEqual({ hz: null, ppm: null });
		expect(findings).toEqual([]);
	});

	test('a limit is allowed itself, passed it is one finding', () => {
		const at = (hz: string) => resolveClock([{ ...source('x', hz), min: r('4000000'), max: r('16000000') }]).findings.map((f) => f.limit);
		expect(at('4000000')).toEqual([]);
		expect(at('16000000')).toEqual([]);
		expect(at('3999999')).toEqual(['min']);
		expect(at('16000001')).toEqual(['max']);
	});

	test.each<[string, SetNode[], string]>([
		[
			'a cycle',
			[
				{ id: 'a', kind: 'divide', from: 'b', by: 2 },
				{ id: 'b', kind: 'divide', from: 'a', by: 2 }
			],
			'cycle'
		],
		['itself', [{ id: 'a', kind: 'divide', from: 'a', by: 2 }], 'cycle'],
		['an unknown input', [{ id: 'a', kind: 'divide', from: 'b', by: 2 }], 'missing'],
		['an id that stands twice', [source('a', '1'), source('a', '2')], 'duplicate'],
		['a pick that is no input', [source('a', '1'), { id: 's', kind: 'select', from: ['a'], pick: 'b' }], 'pick'],
		['a divisor of 0', [source('a', '1'), { id: 'd', kind: 'divide', from: 'a', by: 0 }], 'factor'],
		['a negative factor', [source('a', '1'), { id: 'm', kind: 'multiply', from: 'a', by: r('-1') }], 'factor']
	])('refuses %s', (_, nodes, code) => {
		const error = (() => {
			try {
				return resolveClock(nodes);
			} catch (thrown) {
				return thrown;
			}
		})();
		expect(error).toBeInstanceOf(ClockTreeError);
		expect((error as ClockTreeError).code).toBe(code);
	});

	test('a chain of 20,000 nodes is no problem', () => {
		const nodes: SetNode[] = [source('n0', '1000000')];
		for (let i = 1; i <= 20_000; i++) nodes.unshift({ id: `n${i}`, kind: 'divide', from: `n${i - 1}`, by: 1 });
		expect(resolveClock(nodes).rates.get('n20000')!.hz!.toString()).toBe('1000000/1');
	});

	test('a chain of factors is the product by text-book fractions (seed 5)', () => {
		const factor = fc.record({ up: fc.boolean(), by: fc.integer({ min: 1, max: 1000 }) });
		fc.assert(
			fc.property(fc.integer({ min: 1, max: 2 ** 40 }), fc.array(factor, { maxLength: 12 }), (hz, factors) => {
				const nodes: SetNode[] = [source('n0', String(hz))];
				let [num, den] = [BigInt(hz), 1n];
				factors.forEach(({ up, by }, i) => {
					const [id, from] = [`n${i + 1}`, `n${i}`];
					nodes.push(up ? { id, kind: 'multiply', from, by: Rational.int(by) } : { id, kind: 'divide', from, by });
					if (up) num *= BigInt(by);
					else den *= BigInt(by);
				});
				const found = resolveClock(nodes).rates.get(`n${factors.length}`)!.hz!;
				expect(found.num * den).toBe(num * found.den);
			}),
			{ seed: 5 }
		);
	});
});

test('clockPath goes through the input that is picked', () => {
	const nodes: SetNode[] = [
		source('a', '1'),
		source('b', '1'),
		{ id: 's', kind: 'select', from: ['a', 'b'], pick: 'b' },
		{ id: 'd', kind: 'divide', from: 's', by: 2 }
	];
	expect(clockPath(nodes, 'd')).toEqual(['b', 's', 'd']);
});

describe('setClock on Heron-32', () => {
	const part = shippedPart('heron-32')!;
	const kernel = (settings: Parameters<typeof setClock>[1]) =>
		resolveClock(setClock(part, settings).nodes).rates.get('timers-b')!.hz!.toString();

	test('runs from the internal oscillator at reset', () => expect(kernel({})).toBe('8000000/1'));

	test('12 MHz x 12 / 2 makes 72 MHz', () => {
		expect(kernel({ crystal: r('12000000'), 'loop-source': 'crystal', loop: r('12'), 'core-source': 'loop-out' })).toBe('72000000/1');
	});

	test('a setting that is not offered is a finding, and the reset value stands', () => {
		const { findings } = setClock(part, { loop: r('73'), 'core-source': 'nowhere', rc: r('1') });
		expect(findings.map((f) => `${f.node} ${f.code} ${f.value}`)).toEqual([
			'rc not-settable 1',
			'loop factor-not-offered 73',
			'core-source no-such-input nowhere'
		]);
		expect(kernel({ loop: r('73') })).toBe('8000000/1');
	});
});
