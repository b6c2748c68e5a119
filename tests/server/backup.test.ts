import { getTableName, is, sql } from 'drizzle-orm';
import { PgTable } from 'drizzle-orm/pg-core';
import { createHash } from 'node:crypto';
import { Readable } from 'node:stream';
import { buffer, text } from 'node:stream/consumers';
import { gunzipSync, gzipSync } from 'node:zlib';
import tar from 'tar-stream';
import { afterAll, beforeAll, beforeEach, describe, expect, inject, test } from 'vitest';
import { applyStep, fernhollow, insertStep, PLAN_VERSION, setStep, type Plan } from '../../src/core/plan/index.js';
import { shippedParts } from '../../src/core/part/index.js';
import { ARCHIVE_FORMAT, LEFT_OUT, OWN_TABLES, PLAN_TABLES, SUM, summed } from '../../src/lib/server/backup/contents.js';
import { ArchiveError, readArchive } from '../../src/lib/server/backup/read.js';
import type { Taken } from '../../src/lib/text/index.js';
import { Busy, writeArchive } from '../../src/lib/server/backup/write.js';
import { createPart, loadPart } from '../../src/lib/server/parts/parts.js';
import { createPlan, listPlans, loadPlan, saveSteps, setPlanDeleted } from '../../src/lib/server/plans/plans.js';
import { runImport, takeFile } from '../../src/lib/server/recordings/imports.js';
import { exportRecording } from '../../src/lib/server/recordings/lines.js';
import { listRecordings } from '../../src/lib/server/recordings/recordings.js';
import { closeDatabase, db, migrateDatabase } from '../../src/lib/server/store/db.js';
import * as tables from '../../src/lib/server/store/tables.js';

beforeAll(async () => {
	process.env.DATABASE_URL = inject('database');
	await migrateDatabase();
});
beforeEach(wipe);
afterAll(closeDatabase);

async function wipe(): Promise<void> {
	await db().execute(sql`delete from plans`);
	await db().execute(sql`delete from parts`);
}

const save = (only?: string): Promise<Buffer> => buffer(writeArchive(only));

/** What became of all that an archive holds, and why it ended early if it did. */
async function take(archive: Buffer): Promise<{ taken: Taken[]; error?: string }> {
	const taken: Taken[] = [];
	try {
		for await (const one of readArchive(Readable.from([archive]))) taken.push(one);
		return { taken };
	} catch (error) {
		if (!(error instanceof ArchiveError)) throw error;
		return { taken, error: error.message };
	}
}

const fates = ({ taken }: { taken: Taken[] }) => taken.map(({ fate }) => fate);

interface Entry {
	name: string;
	text: string;
}

async function unpack(archive: Buffer): Promise<Entry[]> {
	const extract = tar.extract();
	const entries: Entry[] = [];
	extract.end(gunzipSync(archive));
	for await (const entry of extract) {
		const pieces: Buffer[] = [];
		for await (const piece of entry) pieces.push(piece as Buffer);
		entries.push({ name: entry.header.name, text: Buffer.concat(pieces).toString() });
	}
	return entries;
}

async function packed(entries: readonly Entry[]): Promise<Buffer> {
	const pack = tar.pack();
	for (const { name, text } of entries) pack.entry({ name }, text);
	pack.finalize();
	return gzipSync(await buffer(pack as never));
}

/** The checksum of a folder's other entries. */
function sumOf(folder: string, entries: readonly Entry[]): Entry {
	const sum = createHash('sha256');
	for (const { name, text } of entries) if (name.startsWith(folder) && name !== folder + SUM) sum.update(summed(name, text));
	return { name: folder + SUM, text: JSON.stringify({ sha256: sum.digest('hex') }) };
}

/** Rows of every entry; numbers of imports and what is worked out anew are each database's own. */
async function contents(archive: Buffer): Promise<[string, unknown][]> {
	return (await unpack(archive))
		.filter(({ name }) => name.endsWith('.ndjson'))
		.flatMap(({ name, text }) =>
			text
				.trim()
				.split('\n')
				.map((line): [string, unknown] => {
					const { generation: _, summary: __, ...row } = JSON.parse(line) as Record<string, unknown>;
					return [name.replace(/-\d+\.ndjson$/, ''), row];
				})
		);
}

/** The edges of a recording as rows. */
const edgesOf = async (recording: string) => text(Readable.from((await exportRecording(recording, 'edges', {}))!.text));

const EDGES = 'time (s),out\n0,0\n0.001,1\n0.002,0\n0.003,1\n';
const WAVE = `time (us),v\n${Array.from({ length: 40_000 }, (_, i) => `${i},${i % 16 < 8 ? 0 : 3}`).join('\n')}\n`;

async function record(plan: string, name: string, text: string, keepFile = false): Promise<string> {
	const id = await takeFile(plan, { name, body: Readable.from([Buffer.from(text)]), keepFile });
	await runImport(id);
	return id;
}

const rename = async (id: string, base: number, to: string) => {
	const { document } = (await loadPlan(id))!;
	await saveSteps(id, base, [{ kind: 'edit', merged: false, step: setStep(document, ['name'], to, 'rename'), id: `rename-to-${to}` }]);
};

/** A plan with a line of its own recording mapped. */
async function measured(name: string): Promise<{ id: string; recording: string }> {
	const id = await createPlan({ ...fernhollow(), name });
	const recording = await record(id, 'out.csv', EDGES, true);
	const mapping = { id: 'm-1', recording, line: 'out', aim: 'heater-a', instrument: '0' };
	await saveSteps(id, 1, [{ kind: 'edit', merged: false, step: insertStep(['mappings', 0], mapping, 'map') }]);
	return { id, recording };
}

test('every table is in the archive, or left out on purpose', () => {
	const all = Object.values(tables as Record<string, unknown>).filter((one): one is PgTable => is(one, PgTable));
	const known: PgTable[] = [...Object.values(PLAN_TABLES), ...Object.values(OWN_TABLES), ...LEFT_OUT];
	expect(all.map((table) => getTableName(table)).sort()).toEqual(known.map((table) => getTableName(table)).sort());
});

describe('an archive', () => {
	test('of a hundred plans brings all of them back into an empty database, to the row', async () => {
		const part = await createPart(JSON.stringify({ ...shippedParts()[0], id: 'own', name: 'My part' }));
		const ids: string[] = [];
		for (let i = 0; i < 100; i++) {
			const { id } = i % 10 === 0 ? await measured(`Plan ${i}`) : { id: await createPlan({ ...fernhollow(), name: `Plan ${i}` }) };
			ids.push(id);
			for (let k = 0; k < i % 4; k++) await rename(id, (await loadPlan(id))!.revision, `Plan ${i}.${k}`);
		}
		const wave = await record(ids[0], 'wave.csv', WAVE);
		await record(ids[0], 'bad.csv', 'time (s),out\n0,0\n0.002,1\n0.001,0\n');
		const edges = await edgesOf(wave);
		const before = await save();
		await wipe();
		const { taken, error } = await take(before);
		expect([error, taken.length, new Set(taken.map(({ fate }) => fate))]).toEqual([undefined, 101, new Set(['taken'])]);
		expect(await contents(await save())).toEqual(await contents(before));
		expect([edges.length > 10_000, (await edgesOf(wave)) === edges]).toEqual([true, true]);
		expect((await listRecordings(ids[0])).map(({ name, state, hasFile }) => [name, state, hasFile])).toEqual([
			['out.csv', 'ready', true],
			['wave.csv', 'ready', false],
			['bad.csv', 'refused', true]
		]);
		expect((await loadPart(part))!.text).toContain('My part');
		expect((await loadPlan(ids[3]))!.history.map(({ step }) => step.parts[0])).toHaveLength(3);
		// Once more it finds all of it here, and doubles nothing.
		expect(new Set(fates(await take(before)))).toEqual(new Set(['here']));
		expect([(await listPlans()).length, (await listRecordings(ids[0])).length]).toEqual([100, 3]);
	});

	test('of one plan holds that plan alone; two at a time are not made', async () => {
		const { id } = await measured('One');
		await createPlan({ ...fernhollow(), name: 'Other' });
		const first = save(id);
		expect(() => writeArchive()).toThrow(Busy);
		expect(new Set((await contents(await first)).map(([name]) => name.split('/')[1]))).toEqual(new Set([id]));
		// One that nobody reads to its end makes room for the next.
		writeArchive().destroy();
		await expect.poll(async () => (await save()).length).toBeGreaterThan(1000);
	});

	test('goes on where the plan here is older, and leaves it where it is newer', async () => {
		const { id } = await measured('First');
		const old = await save();
		await rename(id, 2, 'Second');
		const more = await record(id, 'more.csv', EDGES.replaceAll('1', '2').replace('0,0', '0,1'));
		const newer = await save();
		expect(fates(await take(old))).toEqual(['here']);
		expect((await loadPlan(id))!.document.name).toBe('Second');
		await wipe();
		await take(old);
		expect(await take(newer)).toEqual({ taken: [{ what: 'plan', name: 'Second', fate: 'newer', recordings: 1 }] });
		expect(await contents(await save())).toEqual(await contents(newer));
		expect((await listRecordings(id)).map((one) => one.id)).toContain(more);
	});

	test('stands beside a plan that went another way, with recordings of its own to which its lines lead', async () => {
		const { id, recording } = await measured('First');
		await rename(id, 2, 'Theirs');
		const theirs = await save();
		await wipe();
		await take(theirs);
		await db().execute(sql`delete from revisions where number > 2`);
		await db().execute(sql`update plans set revision = 2`);
		await rename(id, 2, 'Mine');
		expect(fates(await take(theirs))).toEqual(['beside']);
		const other = (await listPlans()).find((plan) => plan.id !== id)!;
		const { document, history, revision } = (await loadPlan(other.id))!;
		const [own] = await listRecordings(other.id);
		expect([document.name, revision, history.length, own.id === recording]).toEqual(['Theirs', 3, 2, false]);
		expect(document.mappings[0].recording).toBe(own.id);
		expect(history[0].step.parts[0]).toMatchObject({ value: { recording: own.id } });
		expect([own.state, own.lines[0].edges]).toEqual(['ready', 3]);
		expect((await loadPlan(id))!.document.name).toBe('Mine');
	});

	test('brings back what was put away', async () => {
		const { id, recording } = await measured('Away');
		const archive = await save();
		await setPlanDeleted(id, true);
		await db().execute(sql`update recordings set deleted_at = now()`);
		expect(fates(await take(archive))).toEqual(['here']);
		expect((await listPlans()).map((plan) => plan.id)).toEqual([id]);
		expect((await listRecordings(id)).map((one) => one.id)).toEqual([recording]);
	});

	test('that is cut off or damaged anywhere gives plans that are whole, or nothing, and says so', async () => {
		for (const name of ['A', 'B', 'C']) await measured(name);
		const archive = await save();
		const sound = new Map<string, unknown>();
		for (const { id } of await listPlans()) sound.set(id, await loadPlan(id));
		let [whole, broken] = [0, 0];
		for (let i = 0; i < 40; i++) {
			await wipe();
			const hurt = Buffer.from(i % 2 ? archive.subarray(0, Math.floor((i * archive.length) / 40)) : archive);
			if (i % 2 === 0) hurt[Math.floor(((i + 0.5) * archive.length) / 40)] ^= 0xff;
			const { taken, error } = await take(hurt);
			expect(error ?? fates({ taken }).find((fate) => fate === 'refused')).toBeDefined();
			for (const { id } of await listPlans()) {
				expect(await loadPlan(id)).toEqual(sound.get(id));
				expect((await listRecordings(id)).map(({ lines }) => lines[0]?.edges)).toEqual([3]);
				whole++;
			}
			if ((await listPlans()).length < 3) broken++;
		}
		expect([whole > 0, broken > 10]).toEqual([true, true]);
		for (const none of [Buffer.from('no archive'), gzipSync('no tar file either'), await packed([{ name: 'x.json', text: '{}' }])])
			expect((await take(none)).error).toBeDefined();
	});

	test('with rows that are wrong refuses that plan with its reason, and takes the others', async () => {
		await measured('Sound');
		await measured('Wrong');
		const entries = await unpack(await save());
		const wrongs: [string, RegExp, string][] = [
			['plans', /"revision":2/, '"revision":"two"'],
			['plans', /^\{/, '{"colour":"red",'],
			['plans', /"name":"Wrong"/, '"name":"\\u0000"'],
			['revisions', /"kind":"edit"/, '"kind":"wish"'],
			['revisions', /"parts":\[/, '"pieces":['],
			['recordings', /"unit":"[^"]*"/, '"unit":"1/0"'],
			['recordings', /"planId":"/, '"planId":"another'],
			['lines', /"edges":3,/, ''],
			['chunks', /"packed":"[^"]{20}/, '"packed":"AAAAAAAAAAAAAAAAAAAA'],
			['chunks', /"packed":"/, '"packed":"*'],
			['pieces', /^(.*)\n$/, '$1\n$1\n']
		];
		for (const [table, from, to] of wrongs) {
			await wipe();
			const wrong = JSON.parse(entries.filter(({ name }) => name.includes('/plans-'))[1].text) as { id: string };
			const changed = entries.map((entry) =>
				entry.name.startsWith(`plans/${wrong.id}/${table}-`) ? { ...entry, text: entry.text.replace(from, to) } : entry
			);
			expect(changed).not.toEqual(entries);
			const sealed = changed.map((entry) => (entry.name.endsWith(SUM) ? sumOf(entry.name.slice(0, -SUM.length), changed) : entry));
			const { taken, error } = await take(await packed(sealed));
			expect([table, error, taken.map(({ fate }) => fate), taken[1]?.reason]).toEqual([
				table,
				undefined,
				['taken', 'refused'],
				expect.any(String) as string
			]);
			expect((await listPlans()).map(({ name }) => name)).toEqual(['Sound']);
		}
	});

	test('of plans of every earlier format is brought up to date', async () => {
		const frame = { revision: 1, summary: {}, createdAt: new Date().toISOString(), savedAt: new Date().toISOString() };
		const versions = Array.from({ length: PLAN_VERSION - 1 }, (_, i) => i + 1);
		const documents = await Promise.all(
			versions.map(async (version) => ((await import(`../../src/core/plan/fixtures/plan-${version}.json`)) as { default: Plan }).default)
		);
		const entries = documents.flatMap((document, i) => {
			const plan = { name: `plans/old-${i}/plans-1.ndjson`, text: `${JSON.stringify({ ...frame, id: `old-${i}`, document })}\n` };
			return [plan, sumOf(`plans/old-${i}/`, [plan])];
		});
		const archive = await packed([
			{ name: 'nolvet.json', text: JSON.stringify({ format: ARCHIVE_FORMAT }) },
			...entries,
			{ name: 'end.json', text: JSON.stringify({ plans: documents.length, parts: 0 }) }
		]);
		expect(fates(await take(archive))).toEqual(versions.map(() => 'taken'));
		for (const i of versions.keys()) {
			const { document } = (await loadPlan(`old-${i}`))!;
			expect([document.version, document.aims.length]).toEqual([PLAN_VERSION, documents[i].aims.length]);
			expect(applyStep(document, setStep(document, ['name'], 'x', 'rename')).name).toBe('x');
		}
		expect((await take(await packed([{ name: 'nolvet.json', text: JSON.stringify({ format: ARCHIVE_FORMAT + 1 }) }]))).error).toContain(
			'newer'
		);
	});
});
