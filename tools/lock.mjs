import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import lockfile from 'proper-lockfile';

/** A lock that was not touched for so long belongs to no living process. */
const STALE_MS = 5000;
const TOUCH_MS = 1000;

/**
 * One process a data folder. Beside the lock lies a note of who holds it, for a message. A lock whose process is gone is
 * waited for until it is stale, and then taken over. Throws with what can be done about it.
 */
export async function takeLock(data) {
	const note = join(data, 'run.json');
	const holder = read(note);
	const dead = holder !== undefined && !isAlive(holder.pid);
	if (dead) console.error('nolvet: the last run did not end by itself; waiting for its lock to go stale');
	let release;
	try {
		release = await lockfile.lock(data, {
			lockfilePath: join(data, 'run.d'),
			realpath: false,
			stale: STALE_MS,
			update: TOUCH_MS,
			retries: dead ? { retries: 12, factor: 1, minTimeout: 500, maxTimeout: 500 } : 0,
			// A machine that slept touches it late: nothing else can hold the database meanwhile.
			onCompromised: (error) => console.error(`nolvet: the lock of the data folder: ${error.message}`)
		});
	} catch (error) {
		if (error.code !== 'ELOCKED') throw new Error(`the data folder ${data} cannot be written: ${error.message}`, { cause: error });
		const where = holder?.address ? `at ${holder.address}` : 'and about to be ready';
		const who = holder ? ` (process ${holder.pid})` : '';
		throw new Error(
			`Nolvet runs on this data already, ${where}${who}. Open that, or stop it first, or use other data: NOLVET_DATA=folder ./start`,
			{ cause: error }
		);
	}
	writeFileSync(note, JSON.stringify({ pid: process.pid }));
	return {
		note: (address) => writeFileSync(note, JSON.stringify({ pid: process.pid, address })),
		release: async () => {
			rmSync(note, { force: true });
			await release().catch(() => undefined);
		}
	};
}

function read(file) {
	try {
		return JSON.parse(readFileSync(file, 'utf8'));
	} catch {
		return undefined;
	}
}

/** Is a process of that id alive, and this program? */
function isAlive(pid) {
	try {
		return pid !== process.pid && readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('tools/run.mjs');
	} catch {
		return false;
	}
}
