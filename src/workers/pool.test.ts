import * as Comlink from 'comlink';
import { afterEach, describe, expect, test, vi } from 'vitest';
import { progress } from './clients.js';
import { WorkerFailed, WorkerPool, type Go } from './pool.js';

interface Work {
	add(a: number, b: number): number;
	fail(): never;
	hang(): Promise<void>;
	count(onProgress: (n: number) => Go | Promise<Go>): Promise<number>;
}

const work: Work = {
	add: (a, b) => a + b,
	fail: () => {
		throw new RangeError('beyond');
	},
	hang: () => new Promise(() => undefined),
	async count(onProgress) {
		for (let n = 0; ; n++) if ((await onProgress(n)) !== 'on') return n;
	}
};

/** A worker in this thread: the same messages, without a thread of its own. */
class FakeWorker extends EventTarget {
	static started = 0;
	static ended = 0;
	private readonly channel = new MessageChannel();

	constructor() {
		super();
		FakeWorker.started++;
		Comlink.expose(work, this.channel.port2);
		this.channel.port1.onmessage = ({ data }) => this.dispatchEvent(new MessageEvent('message', { data: data as unknown }));
	}

	postMessage(message: unknown, transfer: Transferable[]): void {
		this.channel.port1.postMessage(message, transfer);
	}

	terminate(): void {
		FakeWorker.ended++;
		this.channel.port1.close();
		this.channel.port2.close();
	}
}

const pools: WorkerPool<Work>[] = [];
const workers: FakeWorker[] = [];
function pool(size = 1, idle = 60_000): WorkerPool<Work> {
	FakeWorker.started = FakeWorker.ended = 0;
	workers.length = 0;
	const made = new WorkerPool<Work>(
		() => {
			const worker = new FakeWorker();
			workers.push(worker);
			return worker as unknown as Worker;
		},
		size,
		idle
	);
	pools.push(made);
	return made;
}
afterEach(() => {
	for (const made of pools.splice(0)) made.close();
});

describe('WorkerPool', () => {
	test('starts no worker before the first job, and one for jobs that follow each other', async () => {
		const made = pool(2);
		expect(FakeWorker.started).toBe(0);
		expect(await made.run((worker) => worker.add(1, 2))).toBe(3);
		expect(await made.run((worker) => worker.add(2, 3))).toBe(5);
		expect(FakeWorker.started).toBe(1);
	});

	test('gives a job beside a busy worker another, up to its size', async () => {
		const made = pool(2);
		const given = new AbortController();
		const busy = [1, 2].map(() => made.run((worker) => worker.hang(), { signal: given.signal }));
		expect(await made.run((worker) => worker.add(1, 1))).toBe(2);
		expect(FakeWorker.started).toBe(2);
		given.abort();
		for (const one of busy) await expect(one).rejects.toThrow(/abort/i);
	});

	test("passes on the worker's own error and keeps the worker", async () => {
		const made = pool();
		await expect(made.run((worker) => worker.fail())).rejects.toThrow('beyond');
		expect(await made.run((worker) => worker.add(1, 1))).toBe(2);
		expect(FakeWorker.started).toBe(1);
	});

	test('a worker that dies ends all its jobs, and the next job has a new one', async () => {
		const made = pool();
		const under = [made.run((worker) => worker.hang()), made.run((worker) => worker.hang())];
		workers[0].dispatchEvent(new Event('error'));
		for (const one of under) await expect(one).rejects.toMatchObject({ code: 'crashed' });
		expect([FakeWorker.ended, made.alive]).toEqual([1, 0]);
		expect(await made.run((worker) => worker.add(1, 1))).toBe(2);
	});

	test('a worker that says nothing is ended; one that tells of its progress is not', async () => {
		const made = pool();
		await expect(made.run((worker) => worker.hang(), { silence: 30 })).rejects.toBeInstanceOf(WorkerFailed);
		expect(made.alive).toBe(0);
		const told: number[] = [];
		const begun = Date.now();
		const go = (): Go => (Date.now() - begun < 200 ? 'on' : 'stop');
		const counted = await made.run((worker, heard) => worker.count(progress(heard, (n: number) => told.push(n), go)), { silence: 100 });
		expect(counted).toBe(told.length - 1);
	});

	test('what was dropped is told nothing more', async () => {
		const told: number[] = [];
		await pool().run((worker, heard) =>
			worker.count(
				progress(
					heard,
					(n: number) => told.push(n),
					() => (told.length < 3 ? 'on' : 'drop')
				)
			)
		);
		expect(told).toEqual([0, 1, 2]);
	});

	test('an idle worker ends, a job given up before it began starts none', async () => {
		vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
		try {
			const made = pool(1, 1000);
			expect(await made.run((worker) => worker.add(1, 1))).toBe(2);
			expect(made.alive).toBe(1);
			vi.advanceTimersByTime(1001);
			expect([made.alive, FakeWorker.ended]).toEqual([0, 1]);
			await expect(made.run((worker) => worker.add(1, 1), { signal: AbortSignal.abort() })).rejects.toThrow(/abort/i);
			expect(made.alive).toBe(0);
		} finally {
			vi.useRealTimers();
		}
	});
});
