import { Rational } from '../../core/exact/index.js';
import type { Note, RecordingFormat, Slicing } from '../../core/formats/index.js';
import type { Level } from '../../core/trace/index.js';
import type { LineFrame } from '../../workers/benchWire.js';
import { call, upload } from './api.js';

/** A recording as the server tells of it: rationals as "num/den", times in units. */
export interface Recording {
	id: string;
	name: string;
	format: RecordingFormat;
	bytes: number;
	unit: string;
	startTime: number;
	endTime: number;
	resolution: string;
	notes: Note[];
	lines: RecordedLine[];
}

export interface RecordedLine {
	number: number;
	name: string;
	initial: Level;
	edges: number;
	shortest: number | null;
	slicing: Slicing | null;
}

/** A file on its way to the server. */
export interface Upload {
	name: string;
	/** 0 to 1: the share that was sent. */
	sent: number;
	stop: () => void;
}

/** The recordings of the open plan. */
export class RecordingShelf {
	list = $state.raw<Recording[]>([]);
	uploads = $state<Upload[]>([]);

	constructor(
		private readonly planId: string,
		recordings: Recording[]
	) {
		this.list = recordings;
	}

	find(id: string): Recording | undefined {
		return this.list.find((recording) => recording.id === id);
	}

	async refresh(): Promise<void> {
		this.list = await call<Recording[]>('GET', `/api/plans/${this.planId}/recordings`);
	}

	/** Sends a file and returns its recording. Throws Refused, or AbortError when it was stopped. */
	async add(file: File): Promise<Recording | undefined> {
		const abort = new AbortController();
		const index = this.uploads.push({ name: file.name, sent: 0, stop: () => abort.abort() }) - 1;
		const entry = this.uploads[index];
		try {
			const { id } = await upload(this.planId, file, (share) => (entry.sent = share), abort.signal);
			await this.refresh();
			return this.find(id);
		} finally {
			this.uploads = this.uploads.filter((u) => u !== entry);
		}
	}

	async setDeleted(id: string, deleted: boolean): Promise<void> {
		await call('PATCH', `/api/recordings/${id}`, { deleted });
		await this.refresh();
	}
}

export function frameOf(recording: Recording, line: RecordedLine): LineFrame {
	const { unit, startTime: start, endTime: end } = recording;
	return { url: `/api/recordings/${recording.id}/lines/${line.number}`, unit, start, end, initial: line.initial };
}

/** Picoseconds of one time unit, for pixels. */
export function unitPs(recording: Recording): number {
	return Rational.parse(recording.unit).toNumber() * 1e12;
}
