import { hex } from '../../exact/index.js';
import type { Description, SvdField, SvdRegister } from './read.js';

/** Blocks of a binding as plain data, from the peripherals that are taken. */
export type BlockJson = Record<string, { base: string; bits: number; registers: Record<string, Record<string, unknown>> }>;

const NAME = (text: string) => {
	const name = text.replaceAll(/[^A-Za-z0-9_]/g, '_');
	return /^[A-Za-z_]/.test(name) ? name : `_${name}`;
};

/** Registers that a binding can hold: 8, 16 or 32 bits at a multiple of their bytes; others are left out. */
export function blocksOf({ peripherals }: Description, take: (name: string) => boolean = () => true): BlockJson {
	return Object.fromEntries(
		peripherals
			.filter(({ name, registers }) => take(name) && registers.length > 0)
			.map(({ name, base, registers }) => {
				const held = registers.filter(({ bits, offset }) => [8, 16, 32].includes(bits) && (base + offset) % BigInt(bits / 8) === 0n);
				const bits = commonest(held.map((one) => one.bits));
				return [
					NAME(name),
					{ base: hex(base), bits, registers: Object.fromEntries(held.map((one) => [NAME(one.name), registerJson(one, bits)])) }
				];
			})
	);
}

function commonest(widths: readonly number[]): number {
	return [8, 16, 32].reduce(
		(best, one) => (widths.filter((width) => width === one).length >= widths.filter((width) => width === best).length ? one : best),
		32
	);
}

function registerJson(register: SvdRegister, usual: number): Record<string, unknown> {
	const { offset, bits, reset, mask, access, fields } = register;
	const [ones, zeros] = [actsOf(register, /^oneTo/), actsOf(register, /^zeroTo/)];
	const whole = (1n << BigInt(bits)) - 1n;
	return {
		at: hex(offset),
		...(bits !== usual && { bits }),
		...(reset !== undefined && (mask & whole) !== 0n && { reset: hex(reset & whole) }),
		...(reset !== undefined && (mask & whole) !== 0n && (mask & whole) !== whole && { known: hex(mask & whole) }),
		...(/^write/i.test(access) && { write: 'only' }),
		...((register.readClears || fields.some((one) => one.readClears)) && { read: 'clears' }),
		...(ones !== '' && { '1-acts': ones }),
		...(zeros !== '' && { '0-acts': zeros }),
		...(fields.length > 0 && { fields: Object.fromEntries(fields.map((one) => [NAME(one.name), range(one)])) })
	};
}

const range = ({ high, low }: Pick<SvdField, 'high' | 'low'>) => (high === low ? String(low) : `${high}:${low}`);

/** Bits in which a value does something and the other leaves alone. */
function actsOf({ write, bits, fields }: SvdRegister, way: RegExp): string {
	if (write !== undefined && way.test(write)) return bits === 0 ? '' : 'all';
	return fields
		.filter((one) => one.write !== undefined && way.test(one.write))
		.map(range)
		.join(',');
}

/** A binding with such blocks: those of the same name are said anew, all else stays. */
export function withBlocks(binding: { blocks?: unknown } | undefined, blocks: BlockJson): Record<string, unknown> {
	return { ...binding, blocks: { ...(binding?.blocks ?? {}), ...blocks } };
}

/** Names of the codes of fields that have any, by "BLOCK.REGISTER.FIELD". */
export function fieldWords({ peripherals }: Description): Record<string, [name: string, code: number][]> {
	return Object.fromEntries(
		peripherals.flatMap(({ name, registers }) =>
			registers.flatMap((register) =>
				register.fields.flatMap((field) =>
					field.values.length === 0 ? [] : [[[name, register.name, field.name].map(NAME).join('.'), field.values]]
				)
			)
		)
	);
}
