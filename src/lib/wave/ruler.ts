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
	const power = 10 ** Math.floor(Math.log10(least));
	const step = [1, 2, 5, 10].map((m) => m * power).find((s) => s >= least)!;
	const first = Math.ceil((view.start - zero) / step);
	const last = Math.floor((view.start - zero + view.perColumn * view.columns) / step);
	return Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => {
		const time = (first + i) * step;
		return { x: (time + zero - view.start) / view.perColumn, label: timeLabel(time, step) };
	});
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
	const power = 10 ** Math.floor(Math.log10(least));
	const step = [1, 2, 5, 10].map((m) => m * power).find((s) => s >= least)!;
	const first = Math.ceil((view.start - zero) / (step * tickPs));
	const last = Math.floor((view.start - zero + view.perColumn * view.columns) / (step * tickPs));
	return Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => {
		const ticks = (first + i) * step;
		return { x: (ticks * tickPs + zero - view.start) / view.perColumn, label: grouped(ticks) };
	});
}

/** 1234567 as 1 234 567, with thin spaces. */
function grouped(count: number): string {
	return String(count)
		.replace(/\B(?=(\d{3})+$)/g, '\u202f')
		.replace('-', '−');
}
