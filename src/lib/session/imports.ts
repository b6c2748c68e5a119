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
