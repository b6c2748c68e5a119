import { type Mistake, type Register, eachRegister } from '../change.js';

/** A register that holds one more or one less than it should: the plus or minus one of its formula was forgotten, or done twice. */
export function oneOff(name: Register['name'], by: 1 | -1, usual: number): Mistake {
	return {
		code: `${name}-one-${by > 0 ? 'more' : 'less'}`,
		usual,
		of: (group) =>
			eachRegister(
				group,
				(register) => register.name === name,
				() => [(value) => value + by]
			)
	};
}
