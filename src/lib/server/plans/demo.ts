import { asc, eq } from 'drizzle-orm';
import { createReadStream } from 'node:fs';
import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { fernhollow, fernhollowLamp, fernhollowVane, insertStep } from '../../../core/plan/index.js';
import { db, rootFolder } from '../store/db.js';
import { createPlan, saveSteps } from './plans.js';
import { runImport, takeFile } from '../recordings/imports.js';
import { onceDone, lines } from '../store/tables.js';

/** Lays the demo plans into a new database, each once: a demo that was deleted stays deleted. The main board comes last and so stands first. */
export async function layInDemo(): Promise<void> {
	if (await once('demo-boards')) for (const plan of [fernhollowVane(), fernhollowLamp()]) await createPlan(plan);
	if (await once('demo-1')) await layInMain();
}

async function once(name: string): Promise<boolean> {
	return (await db().insert(onceDone).values({ name }).onConflictDoNothing().returning()).length > 0;
}

/** The dome's controller with its recordings. */
async function layInMain(): Promise<void> {
	const folder = join(rootFolder(), 'demo/recordings');
	const id = await createPlan(fernhollow());
	const names = (await readdir(folder)).sort();
	for (const [i, name] of names.entries()) {
		const recording = await takeFile(id, { name, body: createReadStream(join(folder, name)) });
		await runImport(recording);
		const [{ name: line }] = await db()
			.select({ name: lines.name })
			.from(lines)
			.where(eq(lines.recordingId, recording))
			.orderBy(asc(lines.number))
			.limit(1);
		// The simulator that wrote the dumps rounds half of its clock's period to a picosecond.
		const instrument = name.endsWith('.vcd') ? '20 ppm' : '0';
		const mapping = { id: `demo-${i + 1}`, recording, line, aim: 'heater-a', instrument };
		await saveSteps(id, i + 1, [{ kind: 'edit', merged: false, step: insertStep(['mappings', i], mapping, 'map a line to an aim') }]);
	}
}
