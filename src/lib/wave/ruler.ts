import { range, tickIncrement } from 'd3-array';

/** Marks of a time ruler: whole multiples of 1, 2 or 5 times a power of ten picoseconds. */
export interface Mark {
	/** Pixels from the left. */
	x: number;
	label: string;
}

const UNITS: [number, string][] = [
	[1e12, 's'],
	[1e9, 'ms'],
	[1e6, 'µs'],
	[1e3, 'ns'],
	[1, 'ps']
];

/** Marks at least `apart` pixels from each other; `zero` is the picosecond that reads 0. */
export function rulerMarks(view: { start: number; perColumn: number; columns: number }, zero: number, apart: number): Mark[] {
	const least = view.perColumn * apart;
	const step = roundStep(least);
	return multiples(view, zero, step).map((k) => {
		const time = k * step;
		return { x: (time + zero - view.start) / view.perColumn, label: timeLabel(time, step) };
	});
}

type Stretch = { start: number; perColumn: number; columns: number };

/** The smallest of 1, 2 and 5 times a power of ten that is at least so much. */
function roundStep(least: number): number {
	const step = tickIncrement(0, least, 1);
	// Below 1 an increment is told as its inverse, negative; it is the nearest one, which may be too small.
	const size = step < 0 ? -1 / step : step;
	return size >= least ? size : roundStep(least * 1.5);
}

/** The whole multiples of a step that are in view, counted from where zero is. */
function multiples(view: Stretch, zero: number, step: number): number[] {
	const first = Math.ceil((view.start - zero) / step);
	return range(first, Math.floor((view.start - zero + view.perColumn * view.columns) / step) + 1);
}

/** A time in the unit that suits its step, with just the decimals that the step needs. */
export function timeLabel(ps: number, step: number): string {
	const [size, unit] = UNITS.find(([s]) => Math.max(Math.abs(ps), step) >= s) ?? UNITS[UNITS.length - 1];
	const decimals = Math.max(0, -Math.floor(Math.log10(step / size) + 1e-9));
	return `${(ps / size).toFixed(decimals).replace('-', '−')} ${unit}`;
}

/** Marks at whole ticks of `tickPs` picoseconds: multiples of 1, 2 or 5 times a power of ten ticks. */
export function tickMarks(
	view: { start: number; perColumn: number; columns: number },
	zero: number,
	tickPs: number,
	apart: number
): Mark[] {
	const least = Math.max(1, (view.perColumn * apart) / tickPs);
	const step = roundStep(least);
	return multiples(view, zero, step * tickPs).map((k) => {
		const ticks = k * step;
		return { x: (ticks * tickPs + zero - view.start) / view.perColumn, label: grouped(ticks) };
	});
}

/** 1234567 as 1 234 567, with thin spaces. */
function grouped(count: number): string {
	return String(count)
		.replace(/\B(?=(\d{3})+$)/g, '\u202f')
		.replace('-', '−');
}
