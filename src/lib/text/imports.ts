import type { StepFrom } from '../../core/formats/index.js';

/** How far a recording is: its file comes in, waits to be read, is read, is there, or could not be read. */
export type ImportState = 'sending' | 'waiting' | 'reading' | 'ready' | 'refused';

/** Bytes of the file that were read, of how many, and edges so far. */
export interface ImportProgress {
	read: number;
	total: number;
	edges: number;
	/** The file is read; levels are cut from samples. */
	cutting?: boolean;
}

/** Why a file could not be read, and what would be accepted. */
export interface ImportTrouble {
	message: string;
	accepted?: string;
	line?: number;
	byte?: number;
}

const STEP_FROM: Record<StepFrom, string> = {
	unit: "the dump's unit",
	sample: 'one sample',
	digit: 'the last digit of the times',
	hand: 'as it was set'
};

/** Where the step of a recording comes from. */
export function stepFromText(from: StepFrom): string {
	return STEP_FROM[from];
}

/** Why a file could not be read, with the place. */
export function troubleText({ message, accepted, line, byte }: ImportTrouble): string {
	const place = line ? `Line ${line}, byte ${byte}: ` : byte !== undefined ? `Byte ${byte}: ` : '';
	return `${place}${message}${accepted ? `; ${accepted}` : ''}.`;
}

/** How far an import is. */
export function importText(state: ImportState, progress: ImportProgress | null): string {
	if (state === 'sending') return 'It is being sent.';
	if (!progress) return state === 'waiting' ? 'Waits to be read.' : 'Being read …';
	const share = Math.round((100 * progress.read) / Math.max(1, progress.total));
	return progress.cutting ? 'Levels are cut from samples …' : `${share} % read, ${progress.edges.toLocaleString('en')} edges so far.`;
}
