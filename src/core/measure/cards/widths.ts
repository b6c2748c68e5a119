import { eachPeriod, eachPulse, SeriesBuilder, type CardScene, type Series } from './series.js';

export function highSeries({ trace, window }: CardScene): Series {
	const series = new SeriesBuilder('time');
	eachPeriod(trace, window, (rise, fall) => series.add(rise, fall - rise));
	return series.finish();
}

export function lowSeries({ trace, window }: CardScene): Series {
	const series = new SeriesBuilder('time');
	eachPeriod(trace, window, (_, fall, next) => series.add(fall, next - fall));
	return series.finish();
}

/** Pulses, high or low, that are shorter than the limit. */
export function glitchSeries({ trace, window, limit }: CardScene): Series {
	const series = new SeriesBuilder('time');
	eachPulse(trace, window, (from, to) => {
		if (to - from < limit) series.add(from, to - from);
	});
	return series.finish();
}

/** Stretches longer than the limit in which the line stands still. */
export function pauseSeries({ trace, window, limit }: CardScene): Series {
	const series = new SeriesBuilder('time');
	eachPulse(trace, window, (from, to) => {
		if (to - from > limit) series.add(from, to - from);
	});
	return series.finish();
}
