import { ppmError, Rational, type Hertz, type Seconds } from '../../exact/index.js';
import type { AimTable } from '../common/derivation.js';

const MOST_ROWS = 12;

/** A setting that makes an even tick. `value` is the mode's own register, as in Interval. */
export interface TickChoice {
	prescale: number;
	value: number;
	/** Ticks from event to event. */
	ticks: number;
	late: number;
	/** Others are as near; this one's tick is said most easily. */
	roundest?: boolean;
}

/** The nearest settings, one a prescale. `at`: that of any prescale. */
export function choiceTable(
	choices: readonly TickChoice[],
	best: TickChoice,
	kernel: Hertz,
	wish: Seconds,
	at: (ratio: number) => TickChoice | undefined
): AimTable {
	const ppmOf = ({ prescale, ticks }: TickChoice) => ppmError(kernel.div(Rational.int(prescale * ticks)), wish.inverse());
	const cells = (choice: TickChoice): Rational[] => [
		Rational.int(choice.prescale),
		Rational.int(choice.value),
		Rational.int(choice.ticks),
		ppmOf(choice)
	];
	const rows = choices.map((choice) => ({ choice, off: ppmOf(choice).abs() }));
	const nearest = [...rows].sort((a, b) => a.off.compare(b.off)).slice(0, MOST_ROWS);
	return {
		columns: [
			{ name: 'prescale', unit: '' },
			{ name: 'register', unit: '' },
			{ name: 'ticks', unit: '' },
			{ name: 'error', unit: 'ppm' }
		],
		rows: rows
			.filter((row) => nearest.includes(row))
			.map(({ choice }) => ({
				values: cells(choice),
				chosen: choice.prescale === best.prescale,
				edit: { locks: { prescale: String(choice.prescale) } }
			})),
		ask: {
			first: choices[0].prescale,
			last: choices[choices.length - 1].prescale,
			row: (ratio) => {
				const choice = at(ratio);
				return choice && cells(choice);
			}
		}
	};
}
