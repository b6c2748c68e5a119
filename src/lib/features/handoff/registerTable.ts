import { csvRow } from '../../../core/formats/index.js';
import type { HandOff } from '../../../core/handoff/index.js';
import type { Resident } from './residents.js';

const HEAD = ['register', 'address', 'reset', 'value', 'decimal', 'binary', 'bytes', 'fields'];

/** Every register that is touched, as texts: hexadecimal, decimal, binary, bytes from the lowest address up, and what lives in it. */
export function registerTable({ registers }: HandOff, residents: ReadonlyMap<string, Resident[]>): string[][] {
	return registers.map(({ register, value, known }) => {
		const word = value & known;
		const digits = register.bits / 4;
		const hex = (of: bigint) => `0x${of.toString(16).toUpperCase().padStart(digits, '0')}`;
		const bytes = Array.from({ length: register.bits / 8 }, (_, i) =>
			((word >> BigInt(8 * i)) & 0xffn).toString(16).toUpperCase().padStart(2, '0')
		);
		const fields = (residents.get(register.key) ?? []).map(({ name, value: said, bits }) => {
			const places = bits.map(({ high, low }) => (high === low ? `[${high}]` : `[${high}:${low}]`)).join('');
			return `${name}${places}${said === '' ? '' : ` = ${said}`}`;
		});
		return [
			register.key,
			`0x${register.address.toString(16).toUpperCase()}`,
			register.reset === undefined ? '' : hex(register.reset),
			hex(word),
			word.toString(),
			`0b${word.toString(2).padStart(register.bits, '0')}`,
			(register.bytes === 'low' ? bytes : bytes.reverse()).join(' '),
			fields.join('; ')
		];
	});
}

/** The table in a form to be pasted. */
export function tableAs(form: 'text' | 'markdown' | 'csv', rows: readonly (readonly string[])[]): string {
	const all = [HEAD, ...rows];
	if (form === 'csv') return [...all.map((row) => csvRow(row)), ''].join('\n');
	if (form === 'markdown') {
		const line = (row: readonly string[]) => `| ${row.map((cell) => cell.replaceAll('|', '\\|')).join(' | ')} |`;
		return [line(HEAD), line(HEAD.map(() => '---')), ...rows.map(line), ''].join('\n');
	}
	const widths = HEAD.map((_, i) => Math.max(...all.map((row) => row[i].length)));
	return [
		...all.map((row) =>
			row
				.map((cell, i) => cell.padEnd(widths[i]))
				.join('  ')
				.trimEnd()
		),
		''
	].join('\n');
}
