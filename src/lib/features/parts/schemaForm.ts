import { z } from 'zod';
import { partShape } from '../../../core/part/index.js';

/** A JSON Schema as far as part profiles use it. */
export interface Schema {
	type?: string;
	const?: string | number;
	enum?: string[];
	properties?: Record<string, Schema>;
	required?: string[];
	items?: Schema;
	prefixItems?: Schema[];
	anyOf?: Schema[];
	oneOf?: Schema[];
	minimum?: number;
	minItems?: number;
	$ref?: string;
	$defs?: Record<string, Schema>;
}

let root: Schema | undefined;

/** The schema of part profiles, from which their forms are made. */
export function partSchema(): Schema {
	root ??= z.toJSONSchema(partShape) as Schema;
	return root;
}

/** Follows references. */
export function resolve(schema: Schema): Schema {
	const name = schema.$ref?.split('/').at(-1);
	return name === undefined ? schema : resolve(partSchema().$defs![name]);
}

export function variantsOf(schema: Schema): Schema[] | undefined {
	return schema.oneOf ?? schema.anyOf;
}

/** The key whose constant tells variants apart, such as "kind". */
export function discriminator(variants: readonly Schema[]): string | undefined {
	const [first] = variants.map(resolve);
	return Object.entries(first?.properties ?? {}).find(
		([key, s]) => s.const !== undefined && variants.every((v) => resolve(v).properties?.[key]?.const !== undefined)
	)?.[0];
}

/** Which variant a value is of, by its discriminator or its shape; -1 for none. */
export function variantOf(variants: readonly Schema[], value: unknown): number {
	const key = discriminator(variants);
	if (key !== undefined) return variants.findIndex((v) => isObject(value) && resolve(v).properties![key].const === value[key]);
	const exact = variants.findIndex((v) => fits(resolve(v), value));
	return exact >= 0 ? exact : variants.findIndex((v) => sameKind(resolve(v), value));
}

/** How a variant is called: its discriminator, or what it is. */
export function variantName(variants: readonly Schema[], i: number): string {
	const key = discriminator(variants);
	const schema = resolve(variants[i]);
	if (key !== undefined) return String(schema.properties![key].const);
	if (schema.const !== undefined) return String(schema.const);
	if (schema.type === 'array') return schema.items?.type === 'integer' ? 'a list' : 'a list of fractions';
	return schema.type === 'object' ? 'a range' : (schema.type ?? `${i + 1}`);
}

/** A value to begin with: the least that has the schema's shape. */
export function blank(schema: Schema): unknown {
	const s = resolve(schema);
	const variants = variantsOf(s);
	if (variants) return blank(variants[0]);
	if (s.const !== undefined) return s.const;
	if (s.enum) return s.enum[0];
	switch (s.type) {
		case 'object':
			return Object.fromEntries((s.required ?? []).map((key) => [key, blank(s.properties![key])]));
		case 'array':
			return s.prefixItems ? s.prefixItems.map(blank) : Array.from({ length: s.minItems ?? 0 }, () => blank(s.items!));
		case 'integer':
		case 'number':
			return s.minimum ?? 0;
		case 'boolean':
			return false;
		default:
			return '';
	}
}

/** What a typed text stands for in a field: a number where one is wanted and can be read, else the text, so that nothing is lost. */
export function typedValue(schema: Schema, text: string): unknown {
	if (schema.type !== 'integer' && schema.type !== 'number') return text;
	const trimmed = text.trim();
	return trimmed !== '' && Number.isFinite(Number(trimmed)) ? Number(trimmed) : text;
}

export function isObject(value: unknown): value is Record<string, unknown> {
	return value !== null && typeof value === 'object' && !Array.isArray(value);
}

function fits(schema: Schema, value: unknown): boolean {
	if (schema.const !== undefined) return schema.const === value;
	if (schema.type === 'array') return Array.isArray(value) && value.every((one) => sameKind(resolve(schema.items ?? {}), one));
	return sameKind(schema, value);
}

function sameKind(schema: Schema, value: unknown): boolean {
	switch (schema.type) {
		case 'array':
			return Array.isArray(value);
		case 'object':
			return isObject(value);
		case 'integer':
		case 'number':
			return typeof value === 'number';
		default:
			return typeof value === schema.type;
	}
}

/** Are a list's items ratios with a code each? */
export function isLadder(schema: Schema): boolean {
	const { properties } = resolve(schema.items ?? {});
	return properties !== undefined && Object.keys(properties).sort().join() === 'code,ratio';
}

/** "1, 8, 64 = 5": the ratios of a ladder, with the codes that do not just follow. */
export function ladderText(steps: readonly unknown[]): string {
	let next = 0;
	return steps
		.map((step) => {
			const { ratio, code } = isObject(step) ? step : {};
			const text = code === next ? String(ratio) : `${String(ratio)} = ${String(code)}`;
			next = Number(code) + 1;
			return text;
		})
		.join(', ');
}

/** A pasted list of ratios, each with the code behind the one before or with its own; undefined where it is none. */
export function readLadder(text: string): { ratio: number; code: number }[] | undefined {
	const parts = text
		.replace(/\s*[=:]\s*/g, '=')
		.split(/[,;\s]+/)
		.filter((one) => one !== '');
	const steps: { ratio: number; code: number }[] = [];
	let next = 0;
	for (const part of parts) {
		const found = /^(?:[÷/])?(\d{1,9})(?:=(0x[0-9a-f]{1,6}|0b[01]{1,24}|\d{1,9}))?$/i.exec(part);
		if (!found) return undefined;
		const code = found[2] === undefined ? next : Number(found[2]);
		steps.push({ ratio: Number(found[1]), code });
		next = code + 1;
	}
	return steps.length > 0 ? steps : undefined;
}
