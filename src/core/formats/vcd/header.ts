import { Rational, type Seconds } from '../../exact/index.js';
import { FormatError, TIME_UNITS, type FormatDetails, type Note } from '../recording.js';

type HeaderFail = (code: string, details?: FormatDetails) => never;

/** A declared variable; several may share one identifier and are then one signal under several names. */
export class Variable {
	readonly names: string[] = [];

	constructor(
		readonly code: number,
		readonly bits: number,
		readonly real: boolean,
		private readonly range: string,
		/** It has moments and no levels. */
		readonly event = false
	) {}

	/** Is it passed over? */
	get leftOut(): boolean {
		return this.bits === 0;
	}

	/** Name of a bit, 0 = the most significant: "top.data[7]". */
	bitName(bit: number): string {
		if (this.bits === 1) return this.names[0];
		const bounds = /^\[(-?\d+):(-?\d+)\]$/.exec(this.range);
		const left = bounds ? Number(bounds[1]) : this.bits - 1;
		const falling = bounds ? Number(bounds[1]) >= Number(bounds[2]) : true;
		return `${this.names[0]}[${falling ? left - bit : left + bit}]`;
	}
}

const WIDEST = 1024;
const MOST_LINES = 4096;
const SECTIONS = ['$date', '$version', '$comment', '$timescale', '$scope', '$upscope', '$var', '$enddefinitions'];
const REAL = new Set(['real', 'realtime']);

/** Collects the declarations word by word, up to and including $enddefinitions $end. */
export class HeaderReader {
	done = false;
	unit: Seconds | undefined;
	readonly variables = new Map<number, Variable>();
	readonly notes: Note[] = [];
	private readonly scopes: string[] = [];
	private section = '';
	private words: string[] = [];
	private lines = 0;
	/** Names of what is too much to show. */
	private readonly left: string[] = [];

	word(word: string, line: number, byte: number): void {
		const fail: HeaderFail = (code, details) => {
			throw new FormatError(code, line, byte, details);
		};
		if (this.section === '') {
			if (!SECTIONS.includes(word)) fail('unknown-section', { word: word.slice(0, 40), known: SECTIONS.join(' ') });
			this.section = word;
			this.words = [];
		} else if (word !== '$end') {
			if (this.words.length < 64) this.words.push(word);
		} else {
			this.close(fail);
			this.section = '';
		}
	}

	private close(fail: HeaderFail): void {
		if (this.section === '$timescale') this.setUnit(fail);
		else if (this.section === '$scope') this.scopes.push(this.words[1] ?? '');
		else if (this.section === '$upscope') this.scopes.pop();
		else if (this.section === '$var') this.declare(fail);
		else if (this.section === '$enddefinitions') {
			if (!this.unit) fail('no-timescale');
			if (this.lines === 0) fail('no-variables');
			if (this.left.length > 0) this.notes.push({ code: 'left-out', name: this.left[0], count: this.left.length });
			this.dropCommonScope();
			this.done = true;
		}
	}

	/** The outermost scope says nothing when every name has it. */
	private dropCommonScope(): void {
		const names = [...this.variables.values()].filter((v) => !v.leftOut).flatMap((v) => v.names);
		const scope = names[0].slice(0, names[0].indexOf('.') + 1);
		if (scope === '' || !names.every((name) => name.startsWith(scope))) return;
		for (const variable of this.variables.values()) variable.names.forEach((name, i, all) => (all[i] = name.slice(scope.length)));
	}

	private setUnit(fail: HeaderFail): void {
		const said = this.words.join('');
		const match = /^(1|10|100)(s|ms|us|ns|ps|fs)$/.exec(said);
		if (!match) return fail('bad-timescale', { said });
		this.unit = Rational.of(BigInt(match[1]), 10n ** BigInt(-TIME_UNITS[match[2]]));
	}

	private declare(fail: HeaderFail): void {
		const [kind, size, identifier, reference, range = ''] = this.words;
		const bits = Number(size);
		if (!reference || !Number.isInteger(bits) || bits < 0) return fail('bad-variable', { said: this.words.join(' ') });
		const bytes = Uint8Array.from(identifier, (c) => c.charCodeAt(0));
		if (bytes.length > 8) fail('long-identifier', { identifier, most: 8 });
		// An escaped name ends with its blank, and may hold what it likes.
		const name = [...this.scopes, reference]
			.map((part) => part.replace(/^\\/, ''))
			.filter((part) => part !== '')
			.join('.');
		const code = codeOf(bytes, 0, bytes.length);
		const known = this.variables.get(code);
		const real = REAL.has(kind);
		const lines = real ? 1 : bits;
		if (known) known.names.push(name);
		else if (lines === 0 || lines > WIDEST || this.lines + lines > MOST_LINES) {
			// Too much to show: its values are passed over, and it is said.
			this.left.push(name);
			this.variables.set(code, new Variable(code, 0, false, ''));
		} else {
			this.lines += lines;
			const escaped = reference.startsWith('\\');
			const own = escaped ? '' : (/\[[-\d:]+\]$/.exec(reference)?.[0] ?? '');
			const variable = new Variable(code, lines, real, range || own, kind === 'event');
			variable.names.push(range && bits === 1 ? name + range : escaped ? name : name.replace(bits > 1 ? /\[[-\d:]+\]$/ : /$^/, ''));
			this.variables.set(code, variable);
		}
	}
}

/** Identifier as a number: base 94 with digits 1..94, so that no two identifiers of up to 8 characters share one. */
export function codeOf(bytes: Uint8Array, at: number, stop: number): number {
	let code = 0;
	for (let i = stop - 1; i >= at; i--) code = code * 94 + (bytes[i] - 32);
	return code;
}
