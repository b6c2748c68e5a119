import { cleanText, fileFindings, upgradeProfile, type PartProfile, type DocumentFinding } from '../../../core/part/index.js';
import { call, KEEPALIVE_LIMIT } from '../../session/api.js';
import { NO_KEEPER, type Keeper } from '../../session/keeper.js';
import { isObject } from './schemaForm.js';
import { Saver, type SaveState } from '../../session/saver.svelte.js';

/** A text that was not saved. */
export interface LeftText {
	text: string;
}

type Path = readonly (string | number)[];

/** A draft as it stood: its text, and what made it so. */
interface Moment {
	text: string;
	label: string;
}

const DEEPEST = 200;

/** A profile of the shelf under the editor's hands: its text is the truth, whether it is a valid profile, some JSON, or neither. */
export class PartSession {
	readonly key: string;
	readonly shipped: boolean;
	text = $state('');
	revision = $state(0);
	past = $state.raw<readonly Moment[]>([]);
	future = $state.raw<readonly Moment[]>([]);

	/** The text as JSON, or why it is none, with line and column where the engine tells the place. */
	readonly parsed: { ok: true; value: unknown } | { ok: false; message: string } = $derived.by(() => parseJson(this.text));
	readonly document: Record<string, unknown> | undefined = $derived(
		this.parsed.ok && isObject(this.parsed.value) ? (upgradeProfile(this.parsed.value) as Record<string, unknown>) : undefined
	);
	readonly findings: DocumentFinding[] = $derived(
		this.parsed.ok ? fileFindings(this.parsed.value) : [{ path: [], code: 'no-json', details: { reason: this.parsed.message } }]
	);
	/** The profile, when nothing is wrong with it. */
	readonly part: PartProfile | undefined = $derived(this.findings.length === 0 ? (this.document as PartProfile | undefined) : undefined);

	private lastLabel = '';
	private readonly saver = new Saver(this);
	private savedText: string;

	/** `keeper`: where the text is kept while the server does not have it. */
	constructor(
		loaded: { key: string; shipped: boolean; revision: number; text: string },
		private readonly keeper: Keeper<LeftText> = NO_KEEPER
	) {
		this.key = loaded.key;
		this.shipped = loaded.shipped;
		this.revision = loaded.revision;
		this.text = loaded.text;
		this.savedText = loaded.text;
	}

	get unsaved(): boolean {
		return !this.shipped && this.text !== this.savedText;
	}

	get save(): SaveState {
		return this.saver.state;
	}

	/** Sets the value at a place of the document; undefined takes the key, or the list's element, away. `merge`: it goes on with the edit before. */
	set(path: Path, value: unknown, label: string, merge = false): void {
		if (this.document) this.write(JSON.stringify(changed(this.document, path, value), null, '\t'), label, merge);
	}

	/** Puts a value into the list at a place. */
	insert(path: Path, at: number, value: unknown, label: string): void {
		const list = valueAt(this.document, path);
		this.set(path, (Array.isArray(list) ? list : []).toSpliced(at, 0, value), label);
	}

	/** Replaces all of the text. */
	write(typed: string, label: string, merge = false): void {
		const text = cleanText(typed);
		if (text === this.text || this.shipped) return;
		if (!(merge && label === this.lastLabel && this.past.length > 0))
			this.past = [...this.past.slice(1 - DEEPEST), { text: this.text, label }];
		this.lastLabel = label;
		this.future = [];
		this.take(text);
	}

	undo(): void {
		const last = this.past.at(-1);
		if (!last) return;
		this.past = this.past.slice(0, -1);
		this.future = [...this.future, { text: this.text, label: last.label }];
		this.lastLabel = '';
		this.take(last.text);
	}

	redo(): void {
		const next = this.future.at(-1);
		if (!next) return;
		this.future = this.future.slice(0, -1);
		this.past = [...this.past, { text: this.text, label: next.label }];
		this.lastLabel = '';
		this.take(next.text);
	}

	/** Saves now; resolves when the try is over, whatever came of it. */
	flush(): Promise<void> {
		return this.saver.flush();
	}

	/** Would closing the page lose edits? */
	get losable(): boolean {
		return this.unsaved && (this.save.kind !== 'saving' || this.text.length > KEEPALIVE_LIMIT);
	}

	/** Drops what is unsaved and takes what was saved elsewhere. */
	async takeNewer(): Promise<void> {
		const loaded = await call<{ revision: number; text: string }>('GET', `/api/parts/${this.key}`);
		this.past = [...this.past, { text: this.text, label: 'take the newer' }];
		this.text = this.savedText = loaded.text;
		this.revision = loaded.revision;
		this.keep();
		this.saver.reset();
	}

	/** Saves the text as it stands here as a profile of its own and returns its key. */
	async keepAsCopy(): Promise<string> {
		const { key } = await call<{ key: string }>('POST', '/api/parts', { text: this.text });
		this.savedText = this.text;
		this.keep();
		return key;
	}

	private take(text: string): void {
		this.text = text;
		this.keep();
		this.saver.soon();
	}

	private keep(): void {
		this.keeper.keep(this.unsaved ? { text: this.text } : undefined);
	}

	/** Sends the text as it stands; for the saver. */
	async send(): Promise<void> {
		const { text } = this;
		const { revision } = await call<{ revision: number }>('PUT', `/api/parts/${this.key}`, { base: this.revision, text });
		this.revision = revision;
		this.savedText = text;
		this.keep();
	}
}

export function valueAt(doc: unknown, path: Path): unknown {
	return path.reduce<unknown>(
		(here, key) => (here !== null && typeof here === 'object' ? (here as Record<string | number, unknown>)[key] : undefined),
		doc
	);
}

/** A copy with the place set, everything beside it shared. */
function changed(doc: unknown, path: Path, value: unknown): unknown {
	const [key, ...rest] = path;
	if (key === undefined) return value;
	if (Array.isArray(doc)) {
		const list: unknown[] = doc;
		if (rest.length === 0 && value === undefined) return list.toSpliced(Number(key), 1);
		return list.with(Number(key), changed(list[Number(key)], rest, value));
	}
	const object = isObject(doc) ? doc : {};
	const next = rest.length === 0 ? value : changed(object[key], rest, value);
	if (next !== undefined) return { ...object, [key]: next };
	return Object.fromEntries(Object.entries(object).filter(([name]) => name !== String(key)));
}

function parseJson(text: string): PartSession['parsed'] {
	try {
		return { ok: true, value: JSON.parse(text) as unknown };
	} catch (error) {
		const message = error instanceof Error ? error.message : String(error);
		const at = /position (\d+)/.exec(message);
		if (!at || message.includes('line')) return { ok: false, message };
		const before = text.slice(0, Number(at[1])).split('\n');
		return { ok: false, message: `${message} (line ${before.length}, column ${before[before.length - 1].length + 1})` };
	}
}
