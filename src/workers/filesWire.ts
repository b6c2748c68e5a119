import type { Preview, ReadSettings } from '../core/formats/index.js';
import type { Go } from './pool.js';

/** A preview as it crosses from a worker: rationals as "num/den". */
export type WirePreview = Omit<Preview, 'unit' | 'step'> & { unit?: string; step?: string };

/** What is done with a file before it is sent. */
export interface FilesWorker {
	/** Its SHA-256 in hexadecimal, told how far it is from 0 to 1; empty when it was stopped. */
	hash(file: Blob, told: (share: number) => Go | Promise<Go>): Promise<string>;
	/** What is recognised by its beginning. Throws when it cannot be opened at all. */
	preview(file: Blob, settings: ReadSettings): Promise<WirePreview>;
}
