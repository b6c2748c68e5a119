import * as Comlink from 'comlink';

/** A worker that is busy answers or tells of progress at least so often; one that does not is taken for hung. */
const SILENCE_MS = 120_000;
/** A worker without a job ends after so long; the next job starts another. */
const IDLE_MS = 60_000;

/** What a job's progress is answered with: go on, end and give what there is, or end for nothing. */
export type Go = 'on' | 'stop' | 'drop';

/** A worker ended before its job did: it failed as a whole, or said nothing for too long. */
export class WorkerFailed extends Error {
	constructor(readonly code: 'crashed' | 'silent') {
		super(code === 'crashed' ? 'the worker ended' : 'the worker did not answer');
	}
}

export interface JobOptions {
	/** Aborted: the job is given up, and rejects with the signal's reason. */
	signal?: AbortSignal;
	/** Milliseconds of silence after which the worker is taken for hung. */
	silence?: number;
}

interface Slot<T> {
	worker: Worker;
	remote: Comlink.Remote<T>;
	/** What ends each job under way. */
	jobs: Set<(reason: Error) => void>;
	idle?: ReturnType<typeof setTimeout>;
}

/** Workers of one kind, as many as are wanted at once: started when they are needed, ended when they are idle, started anew after one has failed. */
export class WorkerPool<T> {
	private readonly slots: Slot<T>[] = [];

	constructor(
		private readonly start: () => Worker,
		private readonly size = 1,
		private readonly idleMs = IDLE_MS
	) {}

	/** Workers that are alive. */
	get alive(): number {
		return this.slots.length;
	}

	/**
	 * Runs a job on the least busy worker; the job calls `heard` whenever the worker tells of itself. Rejects with the worker's
	 * own error, with WorkerFailed, or with the signal's reason.
	 */
	run<R>(job: (remote: Comlink.Remote<T>, heard: () => void) => Promise<R>, { signal, silence = SILENCE_MS }: JobOptions = {}): Promise<R> {
		if (signal?.aborted) return Promise.reject(signal.reason as Error);
		const slot = this.slot();
		return new Promise<R>((resolve, reject) => {
			let watch: ReturnType<typeof setTimeout>;
			const end = (settle: () => void) => {
				clearTimeout(watch);
				signal?.removeEventListener('abort', aborted);
				slot.jobs.delete(fail);
				this.rest(slot);
				settle();
			};
			const fail = (reason: Error) => end(() => reject(reason));
			const aborted = () => fail(signal!.reason as Error);
			const heard = () => {
				clearTimeout(watch);
				watch = setTimeout(() => this.drop(slot, new WorkerFailed('silent')), silence);
			};
			slot.jobs.add(fail);
			signal?.addEventListener('abort', aborted);
			heard();
			job(slot.remote, heard).then((result) => end(() => resolve(result)), fail);
		});
	}

	/** Ends all workers and what they do. */
	close(): void {
		for (const slot of [...this.slots]) this.drop(slot, new WorkerFailed('crashed'));
	}

	private slot(): Slot<T> {
		const free = [...this.slots].sort((a, b) => a.jobs.size - b.jobs.size)[0] as Slot<T> | undefined;
		const slot = free && (free.jobs.size === 0 || this.slots.length >= this.size) ? free : this.add();
		clearTimeout(slot.idle);
		return slot;
	}

	private add(): Slot<T> {
		const worker = this.start();
		const slot: Slot<T> = { worker, remote: Comlink.wrap<T>(worker), jobs: new Set() };
		const crashed = () => this.drop(slot, new WorkerFailed('crashed'));
		worker.addEventListener('error', crashed);
		worker.addEventListener('messageerror', crashed);
		this.slots.push(slot);
		return slot;
	}

	/** Lets a worker without a job go, in a while. */
	private rest(slot: Slot<T>): void {
		clearTimeout(slot.idle);
		if (slot.jobs.size === 0 && this.slots.includes(slot)) slot.idle = setTimeout(() => this.drop(slot), this.idleMs);
	}

	private drop(slot: Slot<T>, reason?: Error): void {
		const at = this.slots.indexOf(slot);
		if (at >= 0) this.slots.splice(at, 1);
		clearTimeout(slot.idle);
		slot.worker.terminate();
		if (reason) for (const fail of [...slot.jobs]) fail(reason);
	}
}
