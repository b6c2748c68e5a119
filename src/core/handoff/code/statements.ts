import { hex } from '../../exact/index.js';
import type { Access } from '../../registers/index.js';
import { block, remark, type CodeStyle } from './style.js';

/** C of accesses: one assignment each, in their order (handoff-notes.md, rules of the generator). */

type Bits = Access['bits'];

const uint = (bits: Bits) => (bits === 8 ? 'uint8_t' : bits === 16 ? 'uint16_t' : 'uint32_t');

/** A constant of a register's own width. */
export function constant(value: number, bits: Bits): string {
	return bits === 32 ? `(uint32_t)${hex(value, bits)}UL` : `(${uint(bits)})${hex(value, bits)}U`;
}

/** What stays of a register: all but these bits. */
const rest = (mask: number, bits: Bits) => {
	const all = bits === 32 ? 0xffff_ffff : 2 ** bits - 1;
	return constant((all - mask) % 2 ** bits, bits);
};

export function register({ address, bits }: Pick<Access, 'address' | 'bits'>): string {
	const suffix = address > 0xffff ? 'UL' : 'U';
	return `NV_R${bits}(${hex(address)}${suffix})`;
}

const cast = (bits: Bits, expression: string) => (bits === 32 ? expression : `(${uint(bits)})(${expression})`);

/** An access whose value may hang on a variable: an expression of the cell's width in place of its value. */
export type Coded = Access & { expression?: string };

/** Statements of accesses, each with a comment behind; `fails`: what to do when a wait takes too long. */
export function statements(accesses: readonly Coded[], style: CodeStyle, comment: (access: Access) => string, fails: string): string[] {
	const lines: string[] = [];
	const open: { address: number; name: string }[] = [];
	let kept = 0;
	accesses.forEach((access, i) => {
		const place = register(access);
		const { bits } = access;
		const said = comment(access);
		const end = said === '' ? '' : ` /* ${remark(said)} */`;
		if (access.do === 'read') {
			const write = accesses.findIndex((one, j) => j > i && one.do === 'write' && one.address === access.address && !isWhole(one));
			if (write < 0 || accesses.slice(i + 1, write).some((one) => one.do === 'read')) lines.push(`(void)${place};${end}`);
			else if (write > i + 1) {
				const name = `kept${kept++}`;
				open.push({ address: access.address, name });
				lines.push(`const ${uint(bits)} ${name} = ${place};`);
			}
			return;
		}
		const value = access.expression ?? constant(access.value, bits);
		if (access.do === 'wait') {
			lines.push(...block(style, `if (nv_wait${bits}(&${place}, ${constant(access.mask, bits)}, ${value}) != 0)`, [fails]));
			return;
		}
		if (isWhole(access)) {
			lines.push(`${place} = ${value};${end}`);
			return;
		}
		const before = open.findIndex(({ address }) => address === access.address);
		const word = before < 0 ? place : open.splice(before, 1)[0].name;
		const same = access.value === 0 && access.expression === undefined;
		const kept2 = `${word} & ${rest(access.mask, bits)}`;
		lines.push(`${place} = ${cast(bits, same ? kept2 : `(${kept2}) | ${value}`)};${end}`);
	});
	return lines;
}

function isWhole(access: Coded): boolean {
	return access.do !== 'read' && access.mask === (access.bits === 32 ? 0xffff_ffff : 2 ** access.bits - 1);
}
