import { hex } from '../exact/index.js';
import type { HandOff } from './handOff.js';
import { residentsOf } from './residents.js';

/** Every register that is touched, as texts: hexadecimal, decimal, binary, bytes from the lowest address up, and what lives in it. */
export function registerTable(of: HandOff): string[][] {
	const residents = residentsOf(of);
	return of.registers.map(({ register, value, known, decided }) => {
		const word = value & (known | decided);
		const bytes = Array.from({ length: register.bits / 8 }, (_, i) =>
			((word >> BigInt(8 * i)) & 0xffn).toString(16).toUpperCase().padStart(2, '0')
		);
		const fields = (residents.get(register.key) ?? []).map(({ name, value: said, bits }) => {
			const places = bits.map(({ high, low }) => (high === low ? `[${high}]` : `[${high}:${low}]`)).join('');
			return `${name}${places}${said === '' ? '' : ` = ${said}`}`;
		});
		return [
			register.key,
			hex(register.address),
			register.reset === undefined ? '' : hex(register.reset, register.bits),
			hex(word, register.bits),
			word.toString(),
			`0b${word.toString(2).padStart(register.bits, '0')}`,
			(register.bytes === 'low' ? bytes : bytes.reverse()).join(' '),
			fields.join('; ')
		];
	});
}
