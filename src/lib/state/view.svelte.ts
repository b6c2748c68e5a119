import type { Viewport } from '../wave/index.js';

/** What part of time the bench shows, in picoseconds of plan time (0 = where recording and plan are aligned), and its cursors. */
export class BenchView {
	start = $state(-1e9);
	perColumn = $state(1e7);
	width = $state(800);
	cursorA = $state<number | undefined>();
	cursorB = $state<number | undefined>();
	/** The cursor that reads 0; none: the alignment does. */
	zeroAt = $state<'a' | 'b' | undefined>();
	/** All that there is to see. */
	private extent: [number, number] = $state.raw([-1e9, 1e10]);

	readonly viewport: Viewport = $derived({ start: this.start, perColumn: this.perColumn, columns: Math.max(1, Math.floor(this.width)) });

	get zero(): number {
		return (this.zeroAt === 'a' ? this.cursorA : this.zeroAt === 'b' ? this.cursorB : undefined) ?? 0;
	}

	/** Takes what there is to see; the view follows when it had shown all of what there was. */
	setExtent(from: number, to: number): void {
		const all = this.isFitted;
		this.extent = [from, to];
		if (all) this.fit();
	}

	get isFitted(): boolean {
		const [from, to] = this.extent;
		const shown = this.perColumn * this.width;
		return this.untouched || Math.abs(shown - 1.04 * (to - from)) < 0.02 * shown;
	}
	private untouched = true;

	fit(): void {
		const [from, to] = this.extent;
		const span = Math.max(1000, to - from);
		this.perColumn = (1.04 * span) / this.width;
		this.start = from - 0.02 * span;
		this.untouched = true;
	}

	/** Zooms by a factor (below 1: closer) around pixel x. From a picosecond a pixel to ten thousand seconds in all. */
	zoom(factor: number, x: number): void {
		this.untouched = false;
		const at = this.start + x * this.perColumn;
		this.perColumn = Math.min(1e16 / this.width, Math.max(1, this.perColumn * factor));
		this.start = at - x * this.perColumn;
	}

	pan(pixels: number): void {
		this.untouched = false;
		this.start += pixels * this.perColumn;
	}

	show(from: number, to: number): void {
		this.untouched = false;
		this.perColumn = Math.max(1, (to - from) / this.width);
		this.start = from;
	}

	xOf(time: number): number {
		return (time - this.start) / this.perColumn;
	}

	timeAt(x: number): number {
		return this.start + x * this.perColumn;
	}
}
