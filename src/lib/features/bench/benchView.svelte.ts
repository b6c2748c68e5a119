import type { Viewport } from '../../wave/index.js';

/** Planned periods that a fresh bench shows: enough to see a rhythm, few enough to see an edge. */
const FIRST_PERIODS = 3;
/** How far beyond all there is the view goes, as a share of that; and how much of what is shown must lie within it. */
const BEYOND = 1.5;
const WITHIN = 0.1;

/** What part of time the bench shows, in picoseconds of plan time (0 = where recording and plan are aligned), and its cursors. */
export class BenchView {
	start = $state(-1e9);
	perColumn = $state(1e7);
	width = $state(800);
	cursorA = $state<number | undefined>();
	cursorB = $state<number | undefined>();
	/** The cursor that reads 0; none: the alignment does. */
	zeroAt = $state<'a' | 'b' | undefined>();
	/** The mark that reads 0, unless a cursor does. */
	zeroMark = $state<number | undefined>();
	/** All that there is to see, and one period of what is planned. */
	private extent: [number, number] = $state.raw([-1e9, 1e10]);
	private period: number | undefined;
	/** Whether the view follows what there is to see: its first periods, all of it, or where it was moved to. */
	private follows: 'first' | 'all' | 'own' = 'first';

	readonly viewport: Viewport = $derived({ start: this.start, perColumn: this.perColumn, columns: Math.max(1, Math.floor(this.width)) });

	get zero(): number {
		return (this.zeroAt === 'a' ? this.cursorA : this.zeroAt === 'b' ? this.cursorB : undefined) ?? this.zeroMark ?? 0;
	}

	/** Takes what there is to see and, if known, a planned period; a view that was not moved yet follows. */
	setExtent(from: number, to: number, period: number | undefined): void {
		this.extent = [from, to];
		this.period = period;
		this.follow();
	}

	/** Lays the view out again, for instance in a wider window. */
	follow(): void {
		if (this.follows === 'all' || (this.follows === 'first' && this.period === undefined)) this.lay(...this.extent);
		else if (this.follows === 'first') this.lay(0, Math.min(this.extent[1], FIRST_PERIODS * this.period!));
	}

	/** Shows just a stretch of time. */
	showSpan(from: number, to: number): void {
		this.follows = 'own';
		this.lay(from, to);
	}

	fit(): void {
		this.follows = 'all';
		this.follow();
	}

	private lay(from: number, to: number): void {
		const span = Math.max(1000, to - from);
		this.perColumn = (1.04 * span) / this.width;
		this.start = from - 0.02 * span;
	}

	/** Shows one of the periods that a fresh bench begins with. */
	onePeriod(): void {
		if (this.period !== undefined) this.showSpan(0, this.period);
		else this.fit();
	}

	/** Zooms by a factor (below 1: closer) around pixel x. From a picosecond a pixel to a little more than all there is. */
	zoom(factor: number, x: number): void {
		this.follows = 'own';
		const at = this.start + x * this.perColumn;
		const whole = BEYOND * (this.extent[1] - this.extent[0]);
		this.perColumn = Math.max(1, Math.min(Math.max(whole, 1000) / this.width, this.perColumn * factor));
		this.start = at - x * this.perColumn;
		this.keepWithin();
	}

	pan(pixels: number): void {
		this.follows = 'own';
		this.start += pixels * this.perColumn;
		this.keepWithin();
	}

	/** A part of what is shown stays within what there is to see. */
	private keepWithin(): void {
		const [from, to] = this.extent;
		const span = this.width * this.perColumn;
		this.start = Math.min(to - WITHIN * span, Math.max(from - (1 - WITHIN) * span, this.start));
	}

	/** Brings a time to the middle where it is nearer than so many pixels to the edge, or beyond it. */
	reveal(time: number, margin: number): void {
		const x = this.xOf(time);
		if (x < margin || x > this.width - margin) this.pan(x - this.width / 2);
	}

	xOf(time: number): number {
		return (time - this.start) / this.perColumn;
	}

	timeAt(x: number): number {
		return this.start + x * this.perColumn;
	}
}
