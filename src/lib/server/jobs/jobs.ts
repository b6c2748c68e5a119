import PgBoss from 'pg-boss';
import { log } from '../log.js';
import { runImport, SILENT_S, sweepImports, unread } from '../recordings/imports.js';
import { reasonOf } from '../store/trouble.js';
import { purgeDeleted } from '../recordings/recordings.js';

/** The queue of files to be read: several servers on one database share it. */
const IMPORTS = 'imports';
/** Files that a server reads at a time: more would only make each slower. */
const AT_ONCE = 2;
/** Seconds between two looks for what has lost its reader, or its time. */
const LOOK_S = SILENT_S / 3;
/** Longest that a file of the largest size takes. */
const EXPIRES_H = 12;

let boss: PgBoss | undefined;
let looking: NodeJS.Timeout | undefined;
const workers: string[] = [];

/** Begins to take jobs. Nothing hangs on it: a job that is not taken here is taken by another server, or later. */
export async function startJobs(): Promise<void> {
	boss = new PgBoss({ connectionString: process.env.DATABASE_URL, max: 3, application_name: 'nolvet-jobs' });
	boss.on('error', (error) => log.warn({ reason: error.message }, 'the queue could not reach the database'));
	await boss.start();
	// Of one recording one job waits at the most, however often it is asked for.
	await boss.createQueue(IMPORTS, { name: IMPORTS, policy: 'short', retryLimit: 3, retryDelay: 2, expireInHours: EXPIRES_H });
	for (let i = 0; i < AT_ONCE; i++)
		workers.push(
			await boss.work<{ id: string }>(IMPORTS, { batchSize: 1, pollingIntervalSeconds: 1 }, async ([job]) => {
				await runImport(job.data.id);
			})
		);
	looking = setInterval(() => void look(), LOOK_S * 1000);
	await look();
}

export async function stopJobs(): Promise<void> {
	clearInterval(looking);
	await boss?.stop({ graceful: false, wait: false }).catch(() => undefined);
	boss = undefined;
}

/** Lets a recording be read soon. */
export async function sendImport(id: string): Promise<void> {
	await boss?.send(IMPORTS, { id }, { singletonKey: id });
	for (const worker of workers) boss?.notifyWorker(worker);
}

async function look(): Promise<void> {
	try {
		await sweepImports();
		await purgeDeleted();
		for (const id of await unread()) await sendImport(id);
	} catch (error) {
		log.warn(reasonOf(error), 'the queue was not looked after');
	}
}
