import { hex } from '../exact/index.js';
import { ones, type Binding, type Place, type Register, type Value } from '../registers/index.js';

/** A part's registers as a CMSIS-SVD file: blocks as peripherals, the places of quantities as fields, their words as enumerated values. */
export function svdOf(name: string, { blocks, units }: Binding): string {
	const fields = new Map<Register, Field[]>();
	for (const { values } of units.values())
		for (const value of values.values())
			value.pieces.forEach((place, i) => {
				const own = fields.get(place.register) ?? [];
				fields.set(place.register, own);
				const field = { name: fieldName(value, i), place, value };
				if (!own.some(({ place: { high, low } }) => high >= place.low && place.high >= low)) own.push(field);
			});
	const known = new Map<string, string>();
	const peripherals = [...blocks.values()].flatMap(({ name: block, base, registers }) => {
		const lines = [...registers.values()].flatMap((register) => registerLines(register, base, fields.get(register) ?? []));
		const text = lines.join('\n');
		// A block that is like one before says no more than where it is.
		const like = known.get(text);
		if (like === undefined) known.set(text, block);
		const own = [leaf('name', block), leaf('baseAddress', hex(base))];
		if (like === undefined) return element('peripheral', [...own, ...element('registers', lines)]);
		return [`<peripheral derivedFrom="${like}">`, ...own.map(inner), '</peripheral>'];
	});
	return [
		'<?xml version="1.0" encoding="utf-8"?>',
		'<device schemaVersion="1.3">',
		...[
			leaf('name', name),
			leaf('version', '1.0'),
			leaf('description', `Registers of ${name}`),
			leaf('addressUnitBits', '8'),
			leaf('width', '32')
		].map(inner),
		...element('peripherals', peripherals).map(inner),
		'</device>',
		''
	].join('\n');
}

interface Field {
	name: string;
	place: Place;
	value: Value;
}

/** The quantity's own words, and which of several pieces it is. */
function fieldName({ quantity, pieces }: Value, piece: number): string {
	const name = quantity.replaceAll(/[^A-Za-z0-9]+/g, '_').toUpperCase();
	return pieces.length === 1 ? name : `${name}_${piece}`;
}

function registerLines(register: Register, base: number, fields: readonly Field[]): string[] {
	const { key, address, bits, reset, known, write, oneActs, zeroActs, readClears } = register;
	return element('register', [
		leaf('name', key.slice(key.indexOf('.') + 1)),
		leaf('addressOffset', hex(address - base)),
		leaf('size', String(bits)),
		leaf('access', write === 'only' ? 'write-only' : 'read-write'),
		...(reset === undefined ? [leaf('resetMask', '0x0')] : [leaf('resetValue', hex(reset)), leaf('resetMask', hex(known))]),
		...(oneActs === ones(bits) ? [leaf('modifiedWriteValues', 'oneToClear')] : []),
		...(zeroActs === ones(bits) ? [leaf('modifiedWriteValues', 'zeroToClear')] : []),
		...(readClears ? [leaf('readAction', 'clear')] : []),
		...(fields.length === 0 ? [] : element('fields', fields.flatMap(fieldLines)))
	]);
}

function fieldLines({ name, place, value }: Field): string[] {
	const words = value.as.kind === 'words' && value.pieces.length === 1 ? value.as.rows : [];
	const listed = words.map(([word, code]) => inOne('enumeratedValue', [leaf('name', wordName(word)), leaf('value', String(code))]));
	const said = [leaf('name', name), leaf('bitRange', `[${place.high}:${place.low}]`)];
	return listed.length === 0 ? [inOne('field', said)] : element('field', [...said, ...element('enumeratedValues', listed)]);
}

const wordName = (word: string) => word.replaceAll(/[^A-Za-z0-9]+/g, '_');

const escaped = (text: string) => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;');
const inner = (line: string) => `  ${line}`;
const leaf = (name: string, text: string) => `<${name}>${escaped(text)}</${name}>`;
const inOne = (name: string, leaves: readonly string[]) => `<${name}>${leaves.join('')}</${name}>`;
const element = (name: string, lines: readonly string[]) => [`<${name}>`, ...lines.map(inner), `</${name}>`];
