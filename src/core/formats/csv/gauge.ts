import { gcdSafe, Rational } from '../../exact/index.js';

/** Watches the times of rows go by, and tells the step they come in. */
export class StepGauge {
	/** Greatest step that all times so far are multiples of, counted from the first. */
	private common = 0;
	private latest = 0;
	private shortest = Infinity;
	private longest = 0;

	/** The step from one row to the next, in whole units above 0. */
	add(step: number): void {
		if (step === this.latest) return;
		this.latest = step;
		if (step < this.shortest) this.shortest = step;
		if (step > this.longest) this.longest = step;
		if (this.common !== 1) this.common = gcdSafe(step, this.common);
	}

	/** Even samples: the mean step of `steps` over `span`. Otherwise the greatest common one. */
	resolution(span: number, steps: number): Rational {
		const even = this.longest - this.shortest <= this.shortest / 100;
		return even ? Rational.ratio(span, steps) : Rational.int(this.common);
	}
}
