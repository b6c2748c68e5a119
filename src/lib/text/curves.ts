import type { AimChart } from '../../core/aims/index.js';

/** What a chart's curves are over, and whether both axes go by powers of ten. */
export interface CurveWords {
	title: string;
	x: string;
	y: string;
	log: boolean;
}

const CURVES: Record<AimChart['code'], CurveWords> = {
	step: { title: 'How fine one count is over the rate', x: 'rate, Hz', y: 'one count, %', log: true },
	map: { title: 'What the counts stand for', x: 'count', y: 'value', log: false },
	rows: { title: 'Duty of the rows', x: 'row', y: 'duty, %', log: false },
	range: { title: 'Range against resolution, a press takes one', x: 'finest step, s', y: 'longest, s', log: true },
	error: { title: 'Error against resolution, a press takes one', x: 'ticks an interval', y: 'error, ppm', log: true },
	averaged: { title: 'The averaged signal, one pass', x: 'time, ms', y: 'of the supply, %', log: false },
	spectrum: { title: 'Spectrum', x: 'frequency, Hz', y: 'amplitude, % of the supply', log: true },
	filter: { title: 'Speed against filtering, a press takes one', x: 'filter wants, s', y: 'greatest speed, turns/s', log: true }
};

export function curveWords(code: AimChart['code'], unit?: string): CurveWords {
	const words = CURVES[code];
	return unit ? { ...words, y: `${words.y}, ${unit}` } : words;
}

/** What one curve is of. */
export function curveLabel({ label, number }: AimChart['series'][number]): string {
	if (label === 'every') return number === 1 ? 'every edge' : `every ${number} edges`;
	if (label === 'further') return `output ${number}`;
	return label === 'gated' ? 'edges counted' : label;
}
