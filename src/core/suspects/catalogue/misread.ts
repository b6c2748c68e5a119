import type { SimTimer } from '../../sim/index.js';
import { type Mistake, type Register, eachRegister } from '../change.js';

/** What a register holds of a value, as the profile's formula has it: one less than a ratio or a count. */
const stored = ({ name }: Register, value: number) => (name === 'prescale' ? value - 1 : value);
const counted = ({ name }: Register, held: number) => (name === 'prescale' ? held + 1 : held);

/** A value changed by what happens to the number in its register. */
export function misread(code: string, usual: number, turns: (held: number, width: number) => number[]): Mistake {
	const width = ({ name }: Register, timer: SimTimer) => (name === 'prescale' ? 16 : timer.width);
	return {
		code,
		usual,
		of: (group) =>
			eachRegister(
				group,
				() => true,
				(held, timer, register) => {
					const count = new Set(turns(stored(register, held), width(register, timer))).size;
					return Array.from({ length: count }, (_, i) => (value: number) => {
						const made = [...new Set(turns(stored(register, value), width(register, timer)))];
						return counted(register, made[i] ?? stored(register, value));
					});
				}
			)
	};
}
