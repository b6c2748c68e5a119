import { Rational } from '../../exact/index.js';
import { spreadRatios } from '../../solve/index.js';
import type { AimChart, AimTable, TableCell } from './derivation.js';

/** What is drawn as exact: a logarithm has no zero. */
const LEAST = 1e-3;

/** A table of candidates as a chart: two of its columns against each other, each point a press away. */
export function candidateChart(code: 'range' | 'error' | 'filter', { rows }: AimTable, x: number, y: number): AimChart {
	const number = (value: TableCell) => (value instanceof Rational ? Math.abs(value.toNumber()) : 0);
	const points = rows.map(({ values }): [number, number] => [
		number(values[x]),
		code === 'error' ? Math.max(LEAST, number(values[y])) : number(values[y])
	]);
	return {
		code,
		series: [{ label: 'candidates', points }],
		edits: rows.map(({ edit }) => edit ?? {}),
		chosen: rows.findIndex(({ chosen }) => chosen)
	};
}

/** What each prescale would give; of a long list those that double, the chosen one, and `others`. A press takes one. */
export function prescaleTable(
	ratios: Float64Array,
	chosen: number | undefined,
	columns: AimTable['columns'],
	at: (ratio: number) => (Rational | null)[],
	others: readonly number[] = []
): AimTable {
	const shown = [...new Set([...spreadRatios(ratios), ...(chosen === undefined ? [] : [chosen]), ...others])].sort((a, b) => a - b);
	return {
		columns: [{ name: 'prescale', unit: '' }, ...columns],
		rows: shown.map((ratio) => ({
			values: [Rational.int(ratio), ...at(ratio)],
			chosen: ratio === chosen,
			edit: { locks: { prescale: String(ratio) } }
		})),
		ask: {
			first: ratios[0],
			last: ratios[ratios.length - 1],
			row: (ratio) => (ratios.includes(ratio) ? [Rational.int(ratio), ...at(ratio)] : undefined)
		}
	};
}
