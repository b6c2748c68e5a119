import { eachPeriod, SeriesBuilder, type CardScene, type Series } from './series.js';

export function periodSeries({ trace, window }: CardScene): Series {
	const series = new SeriesBuilder('time');
	eachPeriod(trace, window, (rise, _, next) => series.add(rise, next - rise));
	return series.finish();
}

export function frequencySeries({ trace, window }: CardScene): Series {
	const series = new SeriesBuilder('rate');
	eachPeriod(trace, window, (rise, _, next) => series.add(rise, next - rise));
	return series.finish();
}

export function dutySeries({ trace, window }: CardScene): Series {
	const series = new SeriesBuilder('ratio');
	eachPeriod(trace, window, (rise, fall, next) => series.add(rise, fall - rise, next - rise));
	return series.finish();
}
