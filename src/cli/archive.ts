import { createWriteStream } from 'node:fs';
import { rename, rm } from 'node:fs/promises';
import { createInterface } from 'node:readline';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { commandText, takenText, type Ended, type Taken } from '../lib/text/index.js';
import { endProgress, fileReason, openFile, tellProgress, Unreadable } from './files.js';

export interface ExportOptions {
	all?: boolean;
	plan?: string;
	server: string;
}

/** Saves what a server holds as an archive. Returns the exit code. Throws Unreadable where the server is away or the file cannot be written. */
export async function exportArchive(file: string, { all, plan, server }: ExportOptions): Promise<number> {
	if ((all === true) === (plan !== undefined)) throw new Unreadable(commandText.whatToExport);
	const response = await ask(server, `/api/backup${plan === undefined ? '' : `?plan=${encodeURIComponent(plan)}`}`, {});
	// What was broken off is not taken for an archive.
	const part = `${file}.part`;
	let bytes = 0;
	const counting = counted((all) => tellProgress(commandText.exported(file, megabytes((bytes = all)))));
	try {
		await pipeline(Readable.fromWeb(response.body as never), counting, createWriteStream(part));
		await rename(part, file);
	} catch (error) {
		await rm(part, { force: true });
		throw new Unreadable('syscall' in (error as object) ? `${file}: ${fileReason(error)}` : commandText.brokenOff, { cause: error });
	} finally {
		endProgress();
	}
	process.stdout.write(`${commandText.exported(file, megabytes(bytes))}\n`);
	return 0;
}

/** Lets a server take an archive in, and says what became of each plan. Returns the exit code: 1 when something was not taken. Throws Unreadable. */
export async function importArchive(file: string, server: string): Promise<number> {
	const source = openFile(file);
	// Whether it can be read is known before anybody is asked.
	await new Promise<void>((ready, fail) => {
		source.once('readable', ready);
		source.once('end', ready);
		source.once('error', (error) => fail(new Unreadable(`${file}: ${fileReason(error)}`, { cause: error })));
	});
	const counting = counted((all) => tellProgress(commandText.sent(megabytes(all))));
	const body = Readable.toWeb(source.pipe(counting)) as never;
	const response = await ask(server, '/api/backup', {
		method: 'POST',
		body,
		duplex: 'half',
		headers: { 'content-type': 'application/octet-stream' }
	} as RequestInit);
	endProgress();
	let refused = false;
	let ended = false;
	try {
		for await (const line of createInterface({ input: Readable.fromWeb(response.body as never) })) {
			if (line === '') continue;
			const word = JSON.parse(line) as Taken | Ended;
			if ('ended' in word) {
				ended = word.ended;
				if (!ended) process.stderr.write(`nolvet: ${word.reason}\n`);
				continue;
			}
			if (word.fate === 'refused') refused = true;
			process.stdout.write(`${takenText(word)}\n`);
		}
	} catch (error) {
		throw new Unreadable(commandText.brokenOff, { cause: error });
	}
	return ended ? (refused ? 1 : 0) : 2;
}

/** Throws Unreadable where the server is away, or says no. */
async function ask(server: string, path: string, options: RequestInit): Promise<Response> {
	let response: Response;
	if (!URL.canParse(server)) throw new Unreadable(commandText.noServer(server));
	try {
		response = await fetch(new URL(path, server), options);
	} catch (error) {
		throw new Unreadable(commandText.away(server), { cause: error });
	}
	if (response.ok) return response;
	const text = await response.text();
	let said = text.slice(0, 200).trim();
	try {
		said = (JSON.parse(text) as { message: string }).message;
	} catch {
		// It is no answer of ours, and told as it is.
	}
	throw new Unreadable(`${server}: ${said}`);
}

function megabytes(bytes: number): string {
	return (bytes / 1e6).toFixed(1);
}

/** Hands pieces on, and tells how many bytes they are so far. */
function counted(tell: (bytes: number) => void): Transform {
	let bytes = 0;
	return new Transform({
		transform(piece: Buffer, _, next) {
			tell((bytes += piece.length));
			next(null, piece);
		}
	});
}
