import { and, eq } from 'drizzle-orm';
import { createReadStream } from 'node:fs';
import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { fernhollow, insertStep } from '../../core/plan/index.js';
import { db, rootFolder } from './db.js';
import { createPlan, saveSteps } from './plans.js';
import { storeRecording } from './recordings.js';
import { done, lines } from './tables.js';

/** Lays the demo plan with its recordings into a new database, once: a demo that was deleted stays deleted. */
export async function layInDemo(): Promise<void> {
	const first = await db().insert(done).values({ name: 'demo-1' }).onConflictDoNothing().returning();
	if (first.length === 0) return;
	const folder = join(rootFolder(), 'demo/recordings');
	const id = await createPlan(fernhollow());
	const names = (await readdir(folder)).sort();
	for (const [i, name] of names.entries()) {
		const recording = await storeRecording(id, name, createReadStream(join(folder, name)));
		const [{ name: line }] = await db()
			.select({ name: lines.name })
			.from(lines)
			.where(and(eq(lines.recordingId, recording), eq(lines.number, 0)));
		const mapping = { id: `demo-${i + 1}`, recording, line, aim: 'heater-a', instrument: '0' };
		await saveSteps(id, i + 1, [{ kind: 'edit', merged: false, step: insertStep(['mappings', i], mapping, 'map a line to an aim') }]);
	}
}
