import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';
import { previewOf } from '../core/formats/index.js';
import type { FilesWorker } from './filesWire.js';

/** Bytes that are hashed between two words of progress. */
const PIECE = 4 << 20;
/** So much of a file tells what it is. */
const HEAD = 256 * 1024;

export const filesWork: FilesWorker = {
	async hash(file, told) {
		const hash = sha256.create();
		for (let at = 0; at < file.size; at += PIECE) {
			hash.update(new Uint8Array(await file.slice(at, at + PIECE).arrayBuffer()));
			if ((await told(Math.min(1, (at + PIECE) / file.size))) !== 'on') return '';
		}
		return bytesToHex(hash.digest());
	},
	async preview(file, settings) {
		const head = new Uint8Array(await file.slice(0, HEAD).arrayBuffer());
		const { unit, step, ...rest } = await previewOf(head, file.size <= HEAD, settings);
		return { ...rest, ...(unit && { unit: unit.toString() }), ...(step && { step: step.toString() }) };
	}
};
