import { and, desc, eq, isNull, sql } from 'drizzle-orm';
import { randomUUID } from 'node:crypto';
import { cleanText, fileFindings, shippedParts, upgradeProfile, type PartProfile } from '../../../core/part/index.js';
import type { LoadedPart, PartSummary, PartSummed } from '../../session/listing.js';
import { db } from '../store/db.js';
import { StaleRevision } from '../store/revision.js';
import { stamped, Summaries } from '../store/summaries.js';
import { parts } from '../store/tables.js';

/** Longest profile text, in characters: ten thousand clock nodes fit. */
export const LONGEST_PROFILE = 8_000_000;

/** All profiles: one's own, the newest first, then those that come with Nolvet. */
export async function listParts(): Promise<PartSummary[]> {
	const { id, revision, summary, savedAt } = parts;
	const rows = await db()
		.select({ id, revision, summary, savedAt })
		.from(parts)
		.where(isNull(parts.deletedAt))
		.orderBy(desc(parts.savedAt));
	const own = (await summaries.of(rows)).map(({ row, summed, pending }) => ({
		...(summed ?? summarise({})),
		key: row.id,
		shipped: false,
		savedAt: row.savedAt.toISOString(),
		pending
	}));
	shippedSummaries ??= shippedParts().map((part) => ({ ...summarise(part), key: part.id, shipped: true, savedAt: null, pending: false }));
	return [...own, ...shippedSummaries];
}

/** They never change while the program runs. */
let shippedSummaries: PartSummary[] | undefined;

/** Those that a plan can be made with: the shipped ones first. */
export async function usableParts(): Promise<PartSummary[]> {
	const usable = (await listParts()).filter(({ findings, pending }) => findings === 0 && !pending);
	return [...usable.filter(({ shipped }) => shipped), ...usable.filter(({ shipped }) => !shipped)];
}

/** The profile that a plan can be made with; undefined for an unknown one, or one with findings. */
export async function usablePart(key: string): Promise<PartProfile | undefined> {
	const found = await loadPart(key);
	const raw = found && parse(found.text);
	return raw !== undefined && fileFindings(raw).length === 0 ? (upgradeProfile(raw) as PartProfile) : undefined;
}

const summaries = new Summaries(summarised);

/** Works out what is listed of a profile, and keeps it beside the profile unless that has moved on meanwhile. */
async function summarised(key: string): Promise<PartSummed | undefined> {
	const [row] = await db().select({ revision: parts.revision, text: parts.text }).from(parts).where(eq(parts.id, key));
	if (!row) return undefined;
	const made = summarise(parse(row.text));
	const { revision } = row;
	await db()
		.update(parts)
		.set({ summary: stamped(made, revision) })
		.where(and(eq(parts.id, key), eq(parts.revision, revision)));
	return made;
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
	const [row] = await db().select({ revision: parts.revision, text: parts.text }).from(parts).where(eq(parts.id, key));
	if (!row) return undefined;
	// Sent again because the answer was lost: it stands there already.
	if (row.revision === base + 1 && row.text === text) return row.revision;
	throw new StaleRevision(row.revision);
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

function summarise(raw: unknown): PartSummed {
	const found = raw !== null && typeof raw === 'object' ? (raw as Record<string, unknown>) : {};
	const text = (name: string) => (typeof found[name] === 'string' ? cleanText(found[name]) : '');
	const count = (name: string) => (Array.isArray(found[name]) ? found[name].length : 0);
	return {
		id: text('id'),
		name: text('name') || 'Unnamed part',
		summary: text('summary'),
		nodes: count('clock'),
		timers: count('timers'),
		pins: count('pins'),
		findings: fileFindings(raw).length
	};
}
