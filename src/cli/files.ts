import { createReadStream, createWriteStream } from 'node:fs';
import { readFile } from 'node:fs/promises';
import type { Readable, Writable } from 'node:stream';
import { PlanError, readPlan, type Plan } from '../core/plan/index.js';
import { commandText, documentText } from '../lib/text/index.js';

/** What was named cannot be read; the message says why, a line each. */
export class Unreadable extends Error {}

/** The standard input is called "-". */
const STANDARD = '-';

/** Reads a plan file of any known version. Throws Unreadable. */
export async function readPlanFile(name: string): Promise<Plan> {
	const text = await textOf(name);
	const raw = parseJson(name, text);
	try {
		return readPlan(raw);
	} catch (error) {
		if (!(error instanceof PlanError)) throw error;
		throw new Unreadable(error.findings.map((one) => `${name}: ${one.path.join('.')}: ${documentText(one)}`).join('\n'), { cause: error });
	}
}

/** Reads any JSON file. Throws Unreadable. */
export async function readJsonFile(name: string): Promise<unknown> {
	return parseJson(name, await textOf(name));
}

function parseJson(name: string, text: string): unknown {
	try {
		return JSON.parse(text);
	} catch (error) {
		throw new Unreadable(`${name}: ${documentText({ code: 'no-json', details: { reason: (error as Error).message } })}`, { cause: error });
	}
}

/** A file's text, or the standard input's. Throws Unreadable. */
export async function textOf(name: string): Promise<string> {
	return (await bytesOf(name)).toString('utf8');
}

/** A file's bytes, or the standard input's. Throws Unreadable. */
export async function bytesOf(name: string): Promise<Buffer> {
	try {
		if (name !== STANDARD) return await readFile(name);
		const pieces: Buffer[] = [];
		for await (const piece of process.stdin) pieces.push(piece as Buffer);
		return Buffer.concat(pieces);
	} catch (error) {
		throw new Unreadable(`${name}: ${fileReason(error)}`, { cause: error });
	}
}

/** A file, or the standard input, piece by piece. */
export function openFile(name: string): Readable {
	return name === STANDARD ? process.stdin : createReadStream(name, { highWaterMark: 1 << 20 });
}

/** Why a file cannot be read or written. */
export function fileReason(error: unknown): string {
	const { code, message } = error as NodeJS.ErrnoException;
	return commandText.fileReasons[code ?? ''] ?? message;
}

/** Writes pieces to a file, or to the standard output where none is named; waits while the reader is slow. Throws Unreadable. */
export async function writePieces(name: string | undefined, pieces: Iterable<string>): Promise<void> {
	const out: Writable = name === undefined || name === STANDARD ? process.stdout : createWriteStream(name);
	let failed: unknown;
	let goOn = () => {};
	const fail = (error: unknown) => {
		failed = error;
		goOn();
	};
	if (out !== process.stdout) out.on('error', fail);
	let gathered = '';
	const put = async () => {
		const room = out.write(gathered);
		gathered = '';
		if (!room && !failed)
			await new Promise<void>((resolve) => {
				goOn = resolve;
				out.once('drain', resolve);
			});
	};
	for (const piece of pieces) {
		gathered += piece;
		if (gathered.length > 1 << 16) await put();
		if (failed) break;
	}
	if (!failed) await put();
	if (out !== process.stdout) await new Promise((resolve) => out.end(resolve));
	if (failed) throw new Unreadable(`${name}: ${fileReason(failed)}`, { cause: failed });
}

/** Tells how far something is on the error stream, when that is a terminal; a line that the next one takes the place of. */
export function tellProgress(text: string): void {
	if (process.stderr.isTTY) process.stderr.write(`\r\x1b[K${text}`);
}

export function endProgress(): void {
	tellProgress('');
}
