import type { BlockJson, Preview, ReadSettings, SvdFinding, SvdTrouble } from '../core/formats/index.js';
import type { Go } from './pool.js';

/** A preview as it crosses from a worker: rationals as "num/den". */
export type WirePreview = Omit<Preview, 'unit' | 'step'> & { unit?: string; step?: string };

/** A part's description as it crosses from a worker. */
export interface WireDescription {
	name: string;
	blocks: BlockJson;
	/** Names of codes, by "BLOCK.REGISTER.FIELD". */
	words: Record<string, [name: string, code: number][]>;
	findings: SvdFinding[];
	/** Why the file is none, and where; line 0: nowhere. */
	trouble?: { code: SvdTrouble; line: number; column: number };
	/** It was told to end. */
	stopped?: true;
}

/** What is done with a file before it is sent. */
export interface FilesWorker {
	/** Its SHA-256 in hexadecimal, told how far it is from 0 to 1; empty when it was stopped. */
	hash(file: Blob, told: (share: number) => Go | Promise<Go>): Promise<string>;
	/** The registers that a CMSIS-SVD file describes, told how far it is. */
	describe(file: Blob, told: (share: number) => Go | Promise<Go>): Promise<WireDescription>;
	/** What is recognised by its beginning. Throws when it cannot be opened at all. */
	preview(file: Blob, settings: ReadSettings): Promise<WirePreview>;
}
