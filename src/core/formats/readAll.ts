import { AnyReader } from './detect.js';
import { FormatError, type ParsedRecording, type RecordingSink } from './recording.js';
import type { ReadSettings } from './settings.js';
import { unpacked } from './unpack.js';

/** What a file that is read from end to end needs. `open` may be called more than once. */
export interface Reading {
	open: () => AsyncIterable<Uint8Array>;
	settings?: ReadSettings;
	/** Called at each beginning: what was taken before then does not count. */
	sink?: () => RecordingSink | undefined;
	/** Called behind each piece with the bytes that were read, unpacked. */
	onPiece?: (bytes: number) => Promise<void> | void;
}

/**
 * Reads a whole file, packed or not. One that lasts too long for its own steps is read again in coarser ones. Returns what it holds and the
 * settings that it was read with. Throws FormatError, and whatever `open` and `onPiece` throw.
 */
export async function readAll({
	open,
	settings = {},
	sink,
	onPiece
}: Reading): Promise<{ recording: ParsedRecording; settings: ReadSettings }> {
	for (let told = settings; ;) {
		try {
			const reader = new AnyReader(sink?.(), told);
			let bytes = 0;
			for await (const piece of unpacked(open())) {
				reader.feed(piece);
				bytes += piece.length;
				await onPiece?.(bytes);
			}
			return { recording: reader.end(), settings: told };
		} catch (error) {
			if (!(error instanceof FormatError) || error.code !== 'too-fine') throw error;
			told = { ...told, coarser: Number(error.details.coarser) };
		}
	}
}
