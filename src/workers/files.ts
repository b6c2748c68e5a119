import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';
import { blocksOf, fieldWords, previewOf, SvdError, SvdReader } from '../core/formats/index.js';
import type { FilesWorker } from './filesWire.js';

/** Bytes that are hashed between two words of progress. */
const PIECE = 4 << 20;
/** Bytes of a description between two of them. */
const SVD_PIECE = 256 * 1024;
/** So much of a file tells what it is. */
const HEAD = 256 * 1024;

const NOTHING = { name: '', blocks: {}, words: {}, findings: [] };

export const filesWork: FilesWorker = {
	async hash(file, told) {
		const hash = sha256.create();
		for (let at = 0; at < file.size; at += PIECE) {
			hash.update(new Uint8Array(await file.slice(at, at + PIECE).arrayBuffer()));
			if ((await told(Math.min(1, (at + PIECE) / file.size))) !== 'on') return '';
		}
		return bytesToHex(hash.digest());
	},
	async describe(file, told) {
		const reader = new SvdReader();
		const decoder = new TextDecoder('utf-8', { fatal: true });
		try {
			for (let at = 0; at < file.size; at += SVD_PIECE) {
				reader.feed(decoder.decode(await file.slice(at, at + SVD_PIECE).arrayBuffer(), { stream: true }));
				if ((await told(Math.min(1, (at + SVD_PIECE) / file.size))) !== 'on') return { ...NOTHING, stopped: true };
			}
			reader.feed(decoder.decode());
			const description = reader.end();
			return { name: description.name, blocks: blocksOf(description), words: fieldWords(description), findings: description.findings };
		} catch (error) {
			if (error instanceof SvdError) return { ...NOTHING, trouble: { code: error.trouble, line: error.line, column: error.column } };
			if (error instanceof TypeError) return { ...NOTHING, trouble: { code: 'encoding', line: 0, column: 0 } };
			throw error;
		}
	},
	async preview(file, settings) {
		const head = new Uint8Array(await file.slice(0, HEAD).arrayBuffer());
		const { unit, step, ...rest } = await previewOf(head, file.size <= HEAD, settings);
		return { ...rest, ...(unit && { unit: unit.toString() }), ...(step && { step: step.toString() }) };
	}
};
