import type { Ended, Taken } from '../text/index.js';
import { Refused } from './api.js';

/** How an archive was taken in. */
export interface Intake {
	taken: Taken[];
	/** Why it ended early; what was told before is here all the same. */
	broken?: string;
}

/** Sends an archive and hears what becomes of each plan in it. Throws Refused. */
export async function sendArchive(file: File): Promise<Intake> {
	const response = await fetch('/api/backup', { method: 'POST', body: file, headers: { 'content-type': 'application/octet-stream' } });
	const text = await response.text();
	if (!response.ok) throw Refused.from(response.status, text);
	const lines = text
		.split('\n')
		.filter((line) => line !== '')
		.map((line) => JSON.parse(line) as Taken | Ended);
	const taken = lines.filter((line) => 'what' in line);
	const last = lines.find((line) => 'ended' in line);
	if (last?.ended) return { taken };
	const why = last?.reason ?? 'the server ended before it was through';
	return { taken, broken: last?.id ? `${why} (${last.id} in the server’s log)` : why };
}
