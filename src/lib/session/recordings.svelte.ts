import { readInstrument } from '../../core/aims/index.js';
import type { RecordingStep } from '../../core/check/index.js';
import { Rational, type Ppm } from '../../core/exact/index.js';
import type { Analogue, Note, ReadSettings, RecordingFormat, Slicing, StepFrom } from '../../core/formats/index.js';
import type { Mapping, Plan } from '../../core/plan/index.js';
import type { Level } from '../../core/trace/index.js';
import type { LineFrame } from '../../workers/benchWire.js';
import { call, upload } from './api.js';
import type { ImportProgress, ImportState, ImportTrouble } from '../text/index.js';

/** A recording as the server tells of it: rationals as "num/den", times in units. */
export interface Recording {
	id: string;
	name: string;
	format: RecordingFormat;
	bytes: number;
	sha256: string | null;
	unit: string;
	startTime: number;
	endTime: number;
	resolution: string;
	stepFrom: StepFrom;
	notes: Note[];
	settings: ReadSettings;
	state: ImportState;
	progress: ImportProgress | null;
	trouble: ImportTrouble | null;
	keepFile: boolean;
	/** Its file is here and can be read again. */
	hasFile: boolean;
	generation: number;
	lines: RecordedLine[];
}

export interface RecordedLine {
	number: number;
	name: string;
	initial: Level;
	edges: number;
	shortest: number | null;
	firstRise: number | null;
	slicing: Slicing | null;
	analogue: Analogue | null;
	step: string | null;
	raster: string | null;
	cut: number;
}

/** A file on its way to the server. */
export interface Upload {
	name: string;
	/** 0 to 1: the share that was sent. */
	sent: number;
	stop: () => void;
}

/** What is said of a file that is sent. */
export interface Sending {
	settings: ReadSettings;
	keep: boolean;
	/** The recording in whose place it is read. */
	again?: string;
}

/** Milliseconds between two looks at recordings that are on their way: short at first, for most are small. */
const [SOON, LATER] = [150, 700];

/** The recordings of the open plan. */
export class RecordingShelf {
	list = $state.raw<Recording[]>([]);
	uploads = $state<Upload[]>([]);
	private looking: ReturnType<typeof setTimeout> | undefined;
	private closed = false;

	constructor(
		private readonly planId: string,
		recordings: Recording[]
	) {
		this.list = recordings;
		this.watch(LATER);
	}

	find(id: string): Recording | undefined {
		return this.list.find((recording) => recording.id === id && recording.lines.length > 0);
	}

	async refresh(): Promise<void> {
		this.list = await call<Recording[]>('GET', `/api/plans/${this.planId}/recordings`);
		this.watch(SOON);
	}

	/** Gives up looking for what is on its way. */
	close(): void {
		this.closed = true;
		clearTimeout(this.looking);
	}

	/** The recording of this plan that was made of the same file. */
	async known(sha256: string): Promise<{ id: string; name: string; deleted: boolean } | null> {
		return await call('GET', `/api/plans/${this.planId}/recordings?sha256=${sha256}`);
	}

	async deleted(): Promise<{ id: string; name: string; stored: number }[]> {
		return await call('GET', `/api/plans/${this.planId}/recordings?deleted`);
	}

	/** Sends a file and returns its recording's id; it is read after that. Throws Refused, or AbortError when it was stopped. */
	async add(file: File, { settings, keep, again }: Sending): Promise<string> {
		const abort = new AbortController();
		const index = this.uploads.push({ name: file.name, sent: 0, stop: () => abort.abort() }) - 1;
		const entry = this.uploads[index];
		const told = `settings=${encodeURIComponent(JSON.stringify(settings))}${keep ? '&keep' : ''}`;
		try {
			const { id } =
				again === undefined
					? await upload(
							'POST',
							`/api/plans/${this.planId}/recordings?name=${encodeURIComponent(file.name)}&${told}`,
							file,
							(share) => (entry.sent = share),
							abort.signal
						)
					: await upload('PUT', `/api/recordings/${again}/read?${told}`, file, (share) => (entry.sent = share), abort.signal);
			await this.refresh();
			return id;
		} finally {
			this.uploads = this.uploads.filter((u) => u !== entry);
		}
	}

	/** Lets a recording whose file is kept be read again. */
	async readAgain(id: string, settings: ReadSettings): Promise<void> {
		await call('POST', `/api/recordings/${id}/read`, settings);
		await this.refresh();
	}

	/** Cuts an analogue line anew. */
	async cut(id: string, line: number, told: Partial<Slicing>): Promise<void> {
		await call('PATCH', `/api/recordings/${id}/lines/${line}`, told);
		await this.refresh();
	}

	/** Sets what an edge's time can be off by, in seconds. */
	async setStep(id: string, step: string, from: StepFrom = 'hand'): Promise<void> {
		await call('PATCH', `/api/recordings/${id}`, { step, from });
		await this.refresh();
	}

	async setDeleted(id: string, deleted: boolean): Promise<{ stored: number }> {
		const done = await call<{ stored: number }>('PATCH', `/api/recordings/${id}`, { deleted });
		await this.refresh();
		return done;
	}

	/** Looks again while something is on its way. */
	private watch(after: number): void {
		clearTimeout(this.looking);
		if (this.closed || !this.list.some(({ state }) => UNDER_WAY.includes(state))) return;
		this.looking = setTimeout(() => {
			call<Recording[]>('GET', `/api/plans/${this.planId}/recordings`).then(
				(list) => {
					this.list = list;
					this.watch(LATER);
				},
				// The server is away: it is asked again.
				() => this.watch(4 * LATER)
			);
		}, after);
	}
}

const UNDER_WAY: readonly ImportState[] = ['sending', 'waiting', 'reading'];

export function frameOf(recording: Recording, line: RecordedLine): LineFrame {
	const { unit, startTime: start, endTime: end } = recording;
	const version = `${recording.generation}.${line.cut}`;
	return {
		url: `/api/recordings/${recording.id}/lines/${line.number}`,
		version,
		edges: line.edges,
		unit,
		start,
		end,
		initial: line.initial
	};
}

/** Picoseconds of one time unit, for pixels. */
export function unitPs(recording: Recording): number {
	return Rational.parse(recording.unit).toNumber() * 1e12;
}

/** What an edge of a line can be off by: its own step where it has one, else the recording's. */
export function stepOf(recording: Recording, line: RecordedLine | undefined): RecordingStep {
	if (recording.stepFrom === 'hand' || line?.step == null || line.raster === null) return { step: Rational.parse(recording.resolution) };
	return { step: Rational.parse(line.step), raster: Rational.parse(line.raster) };
}

/** The error that the instrument of a mapped line states, in ppm: a named one's, or what was typed for the line. */
export function statedError({ instruments }: Plan, { by, instrument }: Mapping): Ppm {
	const named = by === undefined ? undefined : instruments.find(({ id }) => id === by);
	const read = readInstrument(named?.time ?? instrument);
	return read.ok ? read.value : Rational.zero;
}
