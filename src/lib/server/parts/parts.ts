import { and, desc, eq, isNull, sql } from 'drizzle-orm';
import { randomUUID } from 'node:crypto';
import { fileFindings, shippedParts, upgradeProfile, type PartProfile } from '../../../core/part/index.js';
import type { LoadedPart, PartSummary } from '../../session/listing.js';
import { db } from '../store/db.js';
import { StaleRevision } from '../store/revision.js';
import { parts } from '../store/tables.js';

/** Longest profile text, in characters: ten thousand clock nodes fit. */
export const LONGEST_PROFILE = 8_000_000;

/** All profiles: one's own, the newest first, then those that come with Nolvet. */
export async function listParts(): Promise<PartSummary[]> {
	const rows = await db().select().from(parts).where(isNull(parts.deletedAt)).orderBy(desc(parts.savedAt));
	const own = rows.map(({ id, text, savedAt }) => summarise(id, false, parse(text), savedAt.toISOString()));
	return [...own, ...shippedParts().map((part) => summarise(part.id, true, part, null))];
}

/** The profiles that a plan can be made with. */
export async function usableParts(): Promise<{ key: string; part: PartProfile }[]> {
	const rows = await db().select().from(parts).where(isNull(parts.deletedAt)).orderBy(desc(parts.savedAt));
	const own = rows.flatMap(({ id, text }) => {
		const raw = parse(text);
		return fileFindings(raw).length === 0 ? [{ key: id, part: upgradeProfile(raw) as PartProfile }] : [];
	});
	return [...shippedParts().map((part) => ({ key: part.id, part })), ...own];
}

/** undefined for an unknown profile; one that was put away is found. */
export async function loadPart(key: string): Promise<LoadedPart | undefined> {
	const shipped = shippedParts().find((part) => part.id === key);
	if (shipped) return { key, shipped: true, revision: 0, text: JSON.stringify(shipped, null, '\t') };
	const [row] = await db().select().from(parts).where(eq(parts.id, key));
	return row && { key, shipped: false, revision: row.revision, text: row.text };
}

/** Puts a profile's text on the shelf and returns its key. */
export async function createPart(text: string): Promise<string> {
	const id = randomUUID();
	await db().insert(parts).values({ id, revision: 1, text });
	return id;
}

/** Saves a newer text over revision `base`; undefined for an unknown profile. Throws StaleRevision when it has moved on. */
export async function savePart(key: string, base: number, text: string): Promise<number | undefined> {
	const [saved] = await db()
		.update(parts)
		.set({ text, revision: base + 1, savedAt: sql`now()` })
		.where(and(eq(parts.id, key), eq(parts.revision, base)))
		.returning({ revision: parts.revision });
	if (saved) return saved.revision;
	const [row] = await db().select({ revision: parts.revision }).from(parts).where(eq(parts.id, key));
	if (row) throw new StaleRevision(row.revision);
	return undefined;
}

/** Puts a profile away, or brings it back. False for an unknown one; a shipped one stays. */
export async function setPartDeleted(key: string, deleted: boolean): Promise<boolean> {
	const rows = await db()
		.update(parts)
		.set({ deletedAt: deleted ? sql`now()` : null })
		.where(eq(parts.id, key))
		.returning({ id: parts.id });
	return rows.length > 0;
}

function parse(text: string): unknown {
	try {
		return JSON.parse(text) as unknown;
	} catch {
		return undefined;
	}
}

function summarise(key: string, shipped: boolean, raw: unknown, savedAt: string | null): PartSummary {
	const found = raw !== null && typeof raw === 'object' ? (raw as Record<string, unknown>) : {};
	const text = (name: string) => (typeof found[name] === 'string' ? found[name] : '');
	const count = (name: string) => (Array.isArray(found[name]) ? found[name].length : 0);
	return {
		key,
		shipped,
		id: text('id'),
		name: text('name') || 'Unnamed part',
		summary: text('summary'),
		nodes: count('clock'),
		timers: count('timers'),
		pins: count('pins'),
		findings: shipped ? 0 : fileFindings(raw).length,
		savedAt
	};
}
