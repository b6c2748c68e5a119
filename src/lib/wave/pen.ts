/** What painters draw with: the part of a canvas's context that they use. Anything that has it can be painted on. */
export type Pen = Pick<
	CanvasRenderingContext2D,
	| 'fillRect'
	| 'beginPath'
	| 'moveTo'
	| 'lineTo'
	| 'arc'
	| 'rect'
	| 'clip'
	| 'fill'
	| 'stroke'
	| 'save'
	| 'restore'
	| 'setLineDash'
	| 'fillText'
	| 'fillStyle'
	| 'strokeStyle'
	| 'globalAlpha'
	| 'lineWidth'
	| 'lineJoin'
	| 'font'
>;

interface Style {
	fillStyle: Pen['fillStyle'];
	strokeStyle: Pen['strokeStyle'];
	globalAlpha: number;
	lineWidth: number;
	dash: number[];
	clip: string;
}

/** A pen that writes SVG. Fills may be colours or "url(#id)"; what it draws lies below a given top edge. */
export class SvgPen implements Pen {
	fillStyle: Pen['fillStyle'] = '#000';
	strokeStyle: Pen['strokeStyle'] = '#000';
	globalAlpha = 1;
	lineWidth = 1;
	lineJoin: CanvasLineJoin = 'miter';
	font = '';
	/** Elements so far, one a line. */
	readonly elements: string[] = [];
	private path: string[] = [];
	private dash: number[] = [];
	private clipped = '';
	private readonly saved: Style[] = [];
	private clips = 0;

	constructor(
		private readonly left: number,
		private readonly top: number,
		/** Makes the names of clips its own. */
		private readonly name: string
	) {}

	fillRect(x: number, y: number, width: number, height: number): void {
		if (width > 0 && height > 0)
			this.add(`<rect x="${n(x + this.left)}" y="${n(y + this.top)}" width="${n(width)}" height="${n(height)}" ${this.filled()}/>`);
	}

	beginPath(): void {
		this.path = [];
	}

	moveTo(x: number, y: number): void {
		this.path.push(`M${n(x + this.left)} ${n(y + this.top)}`);
	}

	lineTo(x: number, y: number): void {
		this.path.push(`${this.path.length === 0 ? 'M' : 'L'}${n(x + this.left)} ${n(y + this.top)}`);
	}

	/** Whole circles only. */
	arc(x: number, y: number, radius: number): void {
		const [cx, cy] = [x + this.left, y + this.top];
		this.path.push(`M${n(cx + radius)} ${n(cy)}A${n(radius)} ${n(radius)} 0 1 1 ${n(cx - radius)} ${n(cy)}`);
		this.path.push(`A${n(radius)} ${n(radius)} 0 1 1 ${n(cx + radius)} ${n(cy)}`);
	}

	rect(x: number, y: number, width: number, height: number): void {
		this.path.push(`M${n(x + this.left)} ${n(y + this.top)}h${n(Math.max(0, width))}v${n(height)}h${n(-Math.max(0, width))}Z`);
	}

	clip(): void {
		const id = `${this.name}-clip-${this.clips++}`;
		this.elements.push(`<clipPath id="${id}"><path d="${this.path.join('')}"/></clipPath>`);
		this.clipped = ` clip-path="url(#${id})"`;
	}

	fill(): void {
		if (this.path.length > 0) this.add(`<path d="${this.path.join('')}" ${this.filled()}/>`);
	}

	stroke(): void {
		if (this.path.length === 0) return;
		const dash = this.dash.length > 0 ? ` stroke-dasharray="${this.dash.join(' ')}"` : '';
		this.add(
			`<path d="${this.path.join('')}" fill="none" stroke="${String(this.strokeStyle)}" stroke-width="${n(this.lineWidth)}" stroke-opacity="${n(this.globalAlpha)}"${dash}/>`
		);
	}

	save(): void {
		const { fillStyle, strokeStyle, globalAlpha, lineWidth, dash, clipped } = this;
		this.saved.push({ fillStyle, strokeStyle, globalAlpha, lineWidth, dash, clip: clipped });
	}

	restore(): void {
		const style = this.saved.pop();
		if (!style) return;
		const { clip, ...rest } = style;
		Object.assign(this, rest);
		this.clipped = clip;
	}

	setLineDash(dash: number[]): void {
		this.dash = dash;
	}

	fillText(text: string, x: number, y: number): void {
		const size = /(\d+(?:\.\d+)?)px/.exec(this.font)?.[1] ?? '11';
		const weight = this.font.startsWith('bold') ? ' font-weight="bold"' : '';
		this.add(`<text x="${n(x + this.left)}" y="${n(y + this.top)}" font-size="${size}"${weight} ${this.filled()}>${escaped(text)}</text>`);
	}

	private filled(): string {
		return `fill="${String(this.fillStyle)}" fill-opacity="${n(this.globalAlpha)}"`;
	}

	private add(element: string): void {
		this.elements.push(this.clipped ? element.replace(/^<(\w+)/, `<$1${this.clipped}`) : element);
	}
}

function n(value: number): string {
	return String(Math.round(value * 100) / 100);
}

export function escaped(text: string): string {
	return text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;');
}
