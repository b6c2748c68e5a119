import { Rational } from '../../exact/index.js';

/** Watches the times of rows go by, and tells the period of the sampling if they are even. */
export class StepGauge {
	private shortest = Infinity;
	private longest = 0;

	/** The step from one row to the next, in whole units above 0. */
	add(step: number): void {
		if (step < this.shortest) this.shortest = step;
		if (step > this.longest) this.longest = step;
	}

	/** Many steps, of which the shortest and the longest are told. */
	widen(shortest: number, longest: number): void {
		if (shortest < this.shortest) this.shortest = shortest;
		if (longest > this.longest) this.longest = longest;
	}

	/** The distance of samples, or, of uneven ones, the longest of them. */
	sample(span: number, steps: number): Rational {
		return this.samplePeriod(span, steps) ?? Rational.int(this.longest);
	}

	/** Of even samples, with gaps within 1 %, the mean step of `steps` over `span`. */
	samplePeriod(span: number, steps: number): Rational | undefined {
		return this.longest - this.shortest <= this.shortest / 100 ? Rational.ratio(span, steps) : undefined;
	}
}
