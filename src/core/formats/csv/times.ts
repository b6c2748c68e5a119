/** Moments as files write them beside plain numbers: clock times, and dates with clock times. */

export type TimeKind = 'number' | 'clock' | 'dated';

/** Order of day, month and year in dates with slashes. */
export type DateOrder = 'day-first' | 'month-first';

/** Whole seconds, and the digits of the fraction behind them. */
export interface Moment {
	whole: number;
	/** Digits of the whole part, where they are too many for a plain number. */
	digits?: string;
	fraction: string;
	negative: boolean;
}

const CLOCK = /^([+-]?)(?:(\d{1,5}):)?(\d{1,5}):(\d{1,2})(?:[.,](\d+))?(?:\s*([AaPp])\.?[Mm]\.?)?$/;
const DATE =
	/^(\d{1,4})([-/.])(\d{1,2})\2(\d{1,4})[T ,]+(\d{1,2}:\d{2}(?::\d{2}(?:[.,]\d+)?)?(?:\s*[AaPp]\.?[Mm]\.?)?)\s*(Z|[+-]\d{2}:?\d{2})?$/;
const DAY_S = 86_400;

/** What kind of moment a cell is; undefined for none. */
export function timeKind(cell: string): TimeKind | undefined {
	if (CLOCK.test(cell)) return 'clock';
	return DATE.test(cell) ? 'dated' : undefined;
}

/** "1:02:03.5" is hours, minutes, seconds; "2:03.5" minutes and seconds, "13:45" hours and minutes. */
export function readClock(cell: string): Moment | undefined {
	const found = CLOCK.exec(cell);
	if (!found) return undefined;
	const [, sign, hours, middle, last, fraction, half] = found;
	const three = hours !== undefined;
	const minutesAndSeconds = !three && fraction !== undefined;
	let h = three ? Number(hours) : minutesAndSeconds ? 0 : Number(middle);
	const m = three || minutesAndSeconds ? Number(middle) : Number(last);
	const s = three || minutesAndSeconds ? Number(last) : 0;
	if (half) h = (h % 12) + (/p/i.test(half) ? 12 : 0);
	if (s > 60 || (three && m > 59)) return undefined;
	return { whole: h * 3600 + m * 60 + s, fraction: fraction ?? '', negative: sign === '-' };
}

/** A date with a clock time as seconds since 1970, in its own zone where it names one. */
export function readDated(cell: string, order: DateOrder): Moment | undefined {
	const found = DATE.exec(cell);
	if (!found) return undefined;
	const [, first, mark, second, third, clock, zone] = found;
	const time = readClock(/^\d+:\d+$/.test(clock) ? `${clock}:00` : clock);
	if (!time) return undefined;
	const yearFirst = first.length === 4;
	const [year, month, day] = yearFirst
		? [first, second, third]
		: mark === '.' || order === 'day-first'
			? [third, second, first]
			: [third, first, second];
	const at = Date.UTC(Number(year) < 100 ? 2000 + Number(year) : Number(year), Number(month) - 1, Number(day)) / 1000;
	if (Number(month) > 12 || Number(day) > 31) return undefined;
	return { ...time, whole: at + time.whole - offsetOf(zone) };
}

/** In which order dates with slashes name day and month; undefined when the cells leave it open and their dates differ. */
export function dateOrder(cells: readonly string[]): DateOrder | undefined {
	const dates = cells.map((cell) => DATE.exec(cell)).filter((found) => found?.[2] === '/' && found[1].length < 4);
	if (dates.some((found) => Number(found![1]) > 12)) return 'day-first';
	if (dates.some((found) => Number(found![3]) > 12)) return 'month-first';
	const days = new Set(dates.map((found) => `${found![1]}/${found![3]}`));
	return days.size <= 1 ? 'month-first' : undefined;
}

function offsetOf(zone: string | undefined): number {
	if (!zone || zone === 'Z') return 0;
	const [hours, minutes] = [Number(zone.slice(1, 3)), Number(zone.slice(-2))];
	return (zone[0] === '-' ? -1 : 1) * (hours * 3600 + minutes * 60);
}

/** Clock times that fall back by more than half a day have passed midnight. */
export function daysPassed(before: number, now: number): number {
	return now < before - DAY_S / 2 ? Math.ceil((before - now) / DAY_S) * DAY_S : 0;
}
