import type { StripLink } from '../../core/aims/index.js';
import { hex } from './numbers.js';
import { ordinal } from './words.js';

/** A link's value as it stands in the strip. */
export function linkText({ name, value, list }: StripLink): string {
	if (Number.isNaN(value)) return '—';
	if (list) return list.join(' × ');
	if (name === 'times') return `× ${value}`;
	if (name !== 'every') return String(value);
	return value === 1 ? 'edge' : `${ordinal(value)} edge`;
}

/** What a link's register holds: in short, and in all forms. */
export function registerText({ register, list, value, stages }: StripLink): { short: string; full: string } {
	if (stages) {
		const codes = stages.flatMap(({ code }) => (code === null ? [] : [hex(code, 4)]));
		const full = stages.map(({ ratio, code }) => `÷ ${ratio}${code === null ? '' : ` by ${code} = ${hex(code, 4)}`}`).join(', then ');
		return { short: codes.length === 0 ? 'no register' : `registers ${codes.join(', ')}`, full };
	}
	if (!register) {
		const short = list && list.length > 1 ? `= ${value}` : 'no register';
		return { short, full: short };
	}
	const forms = registerForms(register);
	return {
		short: `register ${forms.decimal === String(value) ? '' : `${forms.decimal} · `}${forms.hex}`,
		full: `${forms.decimal} = ${forms.hex} = 0b${forms.binary.replaceAll(' ', '')}; bytes, the highest first: ${forms.bytes.join(' ')}`
	};
}

/** A register's value in every form that people write it in; `width` in bits. */
export function registerForms({ value, width }: { value: number; width: number }): {
	decimal: string;
	hex: string;
	binary: string;
	/** The highest first. */
	bytes: string[];
} {
	const binary = value
		.toString(2)
		.padStart(width, '0')
		.replace(/(?=(.{4})+$)(?!^)/g, ' ');
	const count = Math.max(1, Math.ceil(width / 8));
	const bytes = Array.from({ length: count }, (_, i) => hex(Math.floor(value / 256 ** (count - 1 - i)) % 256, 8));
	return { decimal: String(value), hex: hex(value, width), binary, bytes };
}
