import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

/**
 * One process a data folder: a file with the process id and the address. A lock whose process is gone, or is
 * another program by now, is taken over.
 */
export function takeLock(data) {
	const file = join(data, 'run.lock');
	for (let tries = 0; tries < 2; tries++) {
		try {
			writeFileSync(file, JSON.stringify({ pid: process.pid }), { flag: 'wx' });
			return {
				note: (address) => writeFileSync(file, JSON.stringify({ pid: process.pid, address })),
				release: () => rmSync(file, { force: true })
			};
		} catch (error) {
			if (error.code !== 'EEXIST') throw new Error(`the data folder ${data} cannot be written: ${error.message}`, { cause: error });
		}
		const held = read(file);
		if (held && isOurs(held.pid)) {
			const where = held.address ? `at ${held.address}` : 'and about to be ready';
			throw new Error(
				`Nolvet runs on this data already, ${where} (process ${held.pid}). Open that, or stop it first, or use other data: NOLVET_DATA=folder ./start`
			);
		}
		rmSync(file, { force: true });
	}
	throw new Error(`another start on ${data} is under way`);
}

function read(file) {
	try {
		return JSON.parse(readFileSync(file, 'utf8'));
	} catch {
		return undefined;
	}
}

/** Is a process of that id alive, and this program? */
function isOurs(pid) {
	try {
		return pid !== process.pid && readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('tools/run.mjs');
	} catch {
		return false;
	}
}
