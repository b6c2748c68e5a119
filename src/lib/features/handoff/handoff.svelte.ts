import {
	codeOf,
	handOff,
	holdDump,
	markOf,
	PLAIN_STYLE,
	readStyle,
	residentsOf,
	type CodeStyle,
	type DumpWords,
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
	grouped = $state<DumpWords['grouped']>(undefined);
	style = $state.raw<CodeStyle>(PLAIN_STYLE);

	readonly files: ReadonlyMap<string, string> = $derived.by(() => {
		const { plan, made } = this.session;
		return this.of.binding ? codeOf(this.of, this.style, codeWords(plan, markOf(plan, made))) : NONE;
	});
	readonly held: HeldDump | undefined = $derived.by(() => {
		if (this.dumpText.trim() === '') return undefined;
		const base = this.base.trim() === '' ? NaN : Number(this.base);
		return holdDump(this.of, this.dumpText, {
			hex: this.hexWords,
			...(this.grouped && { grouped: this.grouped }),
			...(Number.isSafeInteger(base) && { base })
		});
	});
	/** Of every register, by its name, the planned quantities that live there. */
	readonly residents: ReadonlyMap<string, Resident[]> = $derived.by(() => residentsOf(this.of));

	constructor(private readonly session: PlanSession) {
		const left = kept(this.key);
		if (typeof left === 'object' && left !== null) {
			const { text, base, hex, grouped } = left as Record<string, unknown>;
			this.dumpText = typeof text === 'string' ? text : '';
			this.base = typeof base === 'string' ? base : '';
			this.hexWords = hex === true;
			this.grouped = grouped === 'bytes' || grouped === 'words' ? grouped : undefined;
		}
		const read = readStyle(kept(STYLE) ?? {});
		if ('style' in read) this.style = read.style;
	}

	light(names: readonly string[]): void {
		this.lit = names;
	}

	keepDump(): void {
		const { dumpText: text, base, hexWords: hex, grouped } = this;
		keep(this.key, { text, base, hex, grouped });
	}

	setStyle(style: CodeStyle): void {
		this.style = style;
		keep(STYLE, style);
	}

	private get key(): string {
		return `nolvet-handoff ${this.session.id}`;
	}
}

const STYLE = 'nolvet-code-style';

/** undefined: nothing readable. */
function kept(key: string): unknown {
	try {
		return JSON.parse(localStorage.getItem(key) ?? 'null') ?? undefined;
	} catch {
		return undefined;
	}
}

/** What does not fit into the browser's own store is only not there the next time. */
function keep(key: string, value: object): void {
	try {
		localStorage.setItem(key, JSON.stringify(value));
	} catch {
		// As said.
	}
}
