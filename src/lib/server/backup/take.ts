import { createReadStream, createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Ended } from '../../text/archive.js';
import { noteError, OURS } from '../http/answers.js';
import { unavailable } from '../store/trouble.js';
import { ArchiveError, readArchive } from './read.js';

/** An empty line now and then: connections on which nothing moves are dropped. */
const STILL_MS = 20_000;

/**
 * Takes an archive in, and tells of it as lines of JSON. It is written to a file first: whoever sends slowly holds no connection of the
 * database meanwhile.
 */
export async function takeArchive(body: AsyncIterable<Uint8Array>): Promise<ReadableStream<Uint8Array>> {
	const folder = await mkdtemp(join(tmpdir(), 'nolvet-archive-'));
	const file = join(folder, 'archive.tar.gz');
	const drop = () => rm(folder, { recursive: true, force: true });
	try {
		await pipeline(Readable.from(body), createWriteStream(file));
	} catch (error) {
		await drop();
		throw error;
	}
	// Who sent it may go: what was begun is ended all the same.
	let open = true;
	return new ReadableStream({
		async start(controller) {
			const say = (text: string) => open && controller.enqueue(new TextEncoder().encode(`${text}\n`));
			const still = setInterval(() => say(''), STILL_MS);
			try {
				for await (const taken of readArchive(createReadStream(file))) say(JSON.stringify(taken));
				say(JSON.stringify({ ended: true }));
			} catch (error) {
				say(JSON.stringify({ ended: false, ...reason(error) }));
			} finally {
				clearInterval(still);
				await drop();
				if (open) controller.close();
			}
		},
		cancel: () => void (open = false)
	});
}

function reason(error: unknown): Omit<Ended, 'ended'> {
	if (error instanceof ArchiveError) return { reason: error.message };
	const later = unavailable(error);
	return later !== undefined ? { reason: later } : { reason: OURS, id: noteError(error, { route: 'backup' }) };
}
