import {
	codeOf,
	handOff,
	holdDump,
	markOf,
	PLAIN_STYLE,
	readStyle,
	residentsOf,
	type CodeStyle,
	type HandOff,
	type HeldDump,
	type Resident
} from '../../../core/handoff/index.js';
import type { PlanSession } from '../../session/session.svelte.js';
import { codeWords } from '../../text/index.js';

const NONE: ReadonlyMap<string, string> = new Map();

/** What is pointed at: a quantity, wherever it shows. */
export class HandoffModel {
	readonly of: HandOff = $derived.by(() => handOff(this.session.derivation));
	/** Names of the quantities that light up. */
	lit = $state.raw<readonly string[]>([]);
	dumpText = $state('');
	base = $state('');
	hexWords = $state(false);
	style = $state.raw<CodeStyle>(PLAIN_STYLE);

	readonly files: ReadonlyMap<string, string> = $derived.by(() => {
		const { plan, made } = this.session;
		return this.of.binding ? codeOf(this.of, this.style, codeWords(plan, markOf(plan, made))) : NONE;
	});
	readonly held: HeldDump | undefined = $derived.by(() => {
		if (this.dumpText.trim() === '') return undefined;
		const base = this.base.trim() === '' ? NaN : Number(this.base);
		return holdDump(this.of, this.dumpText, { hex: this.hexWords, ...(Number.isSafeInteger(base) && { base }) });
	});
	/** Of every register, by its name, the planned quantities that live there. */
	readonly residents: ReadonlyMap<string, Resident[]> = $derived.by(() => residentsOf(this.of));

	constructor(private readonly session: PlanSession) {
		this.dumpText = kept(this.key('dump')) ?? '';
		this.base = kept(this.key('base')) ?? '';
		const style = kept('nolvet-code-style');
		const read = style === undefined ? undefined : readStyle(parsed(style));
		if (read && 'style' in read) this.style = read.style;
	}

	light(names: readonly string[]): void {
		this.lit = names;
	}

	keepDump(): void {
		keep(this.key('dump'), this.dumpText);
		keep(this.key('base'), this.base);
	}

	setStyle(style: CodeStyle): void {
		this.style = style;
		keep('nolvet-code-style', JSON.stringify(style));
	}

	private key(what: string): string {
		return `nolvet-handoff ${what} ${this.session.id}`;
	}
}

function kept(key: string): string | undefined {
	try {
		return localStorage.getItem(key) ?? undefined;
	} catch {
		return undefined;
	}
}

/** What does not fit into the browser's own store is only not there the next time. */
function keep(key: string, value: string): void {
	try {
		localStorage.setItem(key, value);
	} catch {
		// As said.
	}
}

function parsed(text: string): unknown {
	try {
		return JSON.parse(text);
	} catch {
		return undefined;
	}
}
