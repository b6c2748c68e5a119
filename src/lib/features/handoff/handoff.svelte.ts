import {
	codeOf,
	handOff,
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
import { keep, kept } from '../../session/kept.js';
import { heldDump, keepDump, keptDump, type KeptDump } from '../../session/keptDump.js';
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
		return heldDump(this.of, this.dump);
	});
	/** Of every register, by its name, the planned quantities that live there. */
	readonly residents: ReadonlyMap<string, Resident[]> = $derived.by(() => residentsOf(this.of));

	constructor(private readonly session: PlanSession) {
		const { text, base, hex, grouped } = keptDump(session.id);
		[this.dumpText, this.base, this.hexWords, this.grouped] = [text, base, hex, grouped];
		const read = readStyle(kept(STYLE) ?? {});
		if ('style' in read) this.style = read.style;
	}

	light(names: readonly string[]): void {
		this.lit = names;
	}

	keepDump(): void {
		keepDump(this.session.id, this.dump);
	}

	private get dump(): KeptDump {
		const { dumpText: text, base, hexWords: hex, grouped } = this;
		return { text, base, hex, ...(grouped && { grouped }) };
	}

	setStyle(style: CodeStyle): void {
		this.style = style;
		keep(STYLE, style);
	}
}

const STYLE = 'nolvet-code-style';
