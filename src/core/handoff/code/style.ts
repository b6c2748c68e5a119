import { z } from 'zod';
import type { PlanDerivation } from '../../plan/index.js';

/** How names and lines of generated code look. */
export const codeStyle = z.strictObject({
	/** Before every name of its own. */
	prefix: z
		.string()
		.regex(/^[A-Za-z][A-Za-z0-9_]{0,30}$/)
		.optional(),
	case: z.enum(['snake', 'camel']).optional(),
	/** Blanks of an indent; 0: a tab. */
	indent: z.int().min(0).max(8).optional(),
	braces: z.enum(['same-line', 'next-line']).optional()
});

export type CodeStyle = Required<z.infer<typeof codeStyle>>;

export const PLAIN_STYLE: CodeStyle = { prefix: 'plan', case: 'snake', indent: 0, braces: 'same-line' };

/** A style as it was written, or the place of what is not understood in it. */
export function readStyle(raw: unknown): { style: CodeStyle } | { problem: string } {
	const read = codeStyle.safeParse(raw);
	if (!read.success) return { problem: read.error.issues.map(({ path }) => path.join('.') || 'style').join(', ') };
	const said = Object.fromEntries(Object.entries(read.data).filter(([, value]) => value !== undefined));
	return { style: { ...PLAIN_STYLE, ...said } };
}

const KEYWORDS = new Set(
	'auto break case char const continue default do double else enum extern float for goto if inline int long register restrict return short signed sizeof static struct switch typedef union unsigned void volatile while'.split(
		' '
	)
);

/** A name of C from words of any kind; never a keyword, never beginning with a digit. */
export function nameOf({ prefix, case: casing }: CodeStyle, ...words: readonly string[]): string {
	const parts = [prefix, ...words].flatMap((word) => word.split(/[^A-Za-z0-9]+/)).filter((part) => part !== '');
	const name =
		casing === 'snake'
			? parts.join('_').toLowerCase()
			: parts.map((part, i) => (i === 0 ? part.charAt(0).toLowerCase() : part.charAt(0).toUpperCase()) + part.slice(1)).join('');
	return KEYWORDS.has(name) ? `${name}_` : name;
}

/** A name for each aim, no two alike: its own, with a number where another one has it. */
export function aimNames({ aims }: PlanDerivation): Map<string, string> {
	const taken = new Set<string>();
	return new Map(
		aims.map(({ aim: { id, name } }): [string, string] => {
			const plain = name.replaceAll(/[^A-Za-z0-9]+/g, ' ').trim() || id;
			let own = plain;
			for (let n = 2; taken.has(own.toLowerCase()); n++) own = `${plain} ${n}`;
			taken.add(own.toLowerCase());
			return [id, own];
		})
	);
}

/** Text inside a comment: it cannot end it, and stays on its line. */
export const remark = (said: string): string =>
	said
		.replaceAll('*/', '* /')
		.replaceAll('/*', '/ *')
		.replaceAll(/[\r\n]+/g, ' ')
		.replaceAll('??', '? ?');

export function macroOf({ prefix }: CodeStyle, ...words: readonly string[]): string {
	return [prefix, ...words]
		.flatMap((word) => word.split(/[^A-Za-z0-9]+/))
		.filter((part) => part !== '')
		.join('_')
		.toUpperCase();
}

/** Lines of a block, set in. */
export function block({ indent, braces }: CodeStyle, head: string, lines: readonly string[]): string[] {
	const by = indent === 0 ? '\t' : ' '.repeat(indent);
	const inner = lines.map((line) => (line === '' ? '' : by + line));
	return braces === 'same-line' ? [`${head} {`, ...inner, '}'] : [head, '{', ...inner, '}'];
}

/** A block of its own, for names that stand in it alone. */
export function scope(style: CodeStyle, lines: readonly string[]): string[] {
	return block(style, '', lines)
		.map((line, i) => (i === 0 ? line.trimStart() : line))
		.filter((line, i) => i > 0 || line !== '');
}

/** The cells of a table in braces, eight a line. */
export function tableLines(style: CodeStyle, cells: readonly string[]): string[] {
	const lines = Array.from({ length: Math.ceil(cells.length / 8) }, (_, i) => `${cells.slice(8 * i, 8 * i + 8).join(', ')},`);
	const [, ...rest] = block({ ...style, braces: 'next-line' }, '', lines);
	return rest.map((line, i) => (i === rest.length - 1 ? `${line};` : line));
}
