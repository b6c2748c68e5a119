import type { JudgedQuantity } from '../check/index.js';
import { derivePlan, type Plan } from '../plan/index.js';
import { judgeReading, readInstrumentOf, type JudgedReading } from '../readings/index.js';
import { observeReading, type Observed, type ReadValue } from './observed.js';

/** A typed reading as a witness, and as one of its aim's quantities. */
export interface TypedReading {
	observed: Observed;
	judged: JudgedReading;
	quantity: JudgedQuantity;
}

const KNOWN: string[] = ['frequency', 'high', 'duty', 'interval', 'width', 'delay', 'gap'] satisfies ReadValue['of'][];

/** The plan's typed readings that can be read. */
export function readingsOf(plan: Plan): TypedReading[] {
	if (plan.readings.length === 0) return [];
	const { aims, clocks } = derivePlan(plan);
	return plan.readings.flatMap((reading): TypedReading[] => {
		const derivation = aims.find(({ aim }) => aim.id === reading.aim);
		const instrument = plan.instruments.find(({ id }) => id === reading.by);
		const judged = judgeReading(derivation, clocks, reading, instrument);
		if (typeof judged === 'string') return [];
		const { planned, value, asSet, asWished } = judged;
		const name = `${reading.value.trim()}`;
		const witness = {
			recording: `reading ${reading.id}`,
			line: name,
			aim: reading.aim,
			role: planned.line,
			instrument: readInstrumentOf(instrument).ppm
		};
		const observed = observeReading(witness, {
			of: (KNOWN.includes(planned.of) ? planned.of : 'gap') as ReadValue['of'],
			value: value.toNumber(),
			error: asSet.budget.recording.toNumber()
		});
		return [
			{
				observed,
				judged,
				quantity: {
					of: planned.of,
					role: planned.line,
					...(planned.against !== undefined && { against: planned.against }),
					recording: witness.recording,
					line: name,
					unit: planned.unit,
					planned: planned.planned,
					measured: value,
					count: 1,
					asSet,
					...(asWished && { asWished })
				}
			}
		];
	});
}
