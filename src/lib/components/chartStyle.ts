/** Inks and lettering of a chart, read off the page's theme. */
export interface ChartStyle {
	/** A colour of the theme by its variable. */
	ink: (variable: string) => string;
	font: { family: string; size: number };
}

export function chartStyle(canvas: HTMLElement): ChartStyle {
	const style = getComputedStyle(canvas);
	return { ink: (variable) => style.getPropertyValue(variable).trim(), font: { family: style.fontFamily, size: 11 } };
}

/** An axis' title, ticks and grid. */
export function axisStyle({ ink, font }: ChartStyle, title: string) {
	return {
		title: { display: true, text: title, color: ink('--color-soft'), font },
		ticks: { color: ink('--color-soft'), font },
		grid: { color: ink('--color-grid') }
	};
}
