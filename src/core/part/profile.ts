import { z } from 'zod';
import { crossCheck, type Salvaged } from './crosscheck.js';
import { shapeFindings, type DocumentFinding } from './finding.js';
import { clockNode } from './node.js';
import { pin, route } from './pins.js';
import { timerProfile } from './timer.js';
import { id, links, name } from './words.js';

/**
 * A part profile: what a chip offers, as validated data (timers.md 1 to 9). Frequencies and factors are rational texts
 * ("72000000", "3/2"); everything else is an integer or a word. Registers will be described beside these lists and name
 * what they set by id, so every element has one.
 */
export const PROFILE_VERSION = 3;

export const partShape = z.strictObject({
	version: z.literal(PROFILE_VERSION),
	id,
	name,
	summary: z.string().max(400),
	links,
	clock: z.array(clockNode).min(1).max(10_000),
	/** The clock node of the processor, for the time that software takes. */
	core: id.optional(),
	timers: z.array(timerProfile).max(200),
	wiring: z.array(route).max(2000).optional(),
	pins: z.array(pin).max(1000).optional(),
	/** Registers, and where each quantity lives in them, as core/registers reads it; left out: not said. */
	binding: z.record(z.string().max(40), z.json()).optional()
});

export const partProfile = partShape.superRefine((part, ctx) => {
	for (const { path, code, details } of crossCheck(part))
		ctx.addIssue({ code: 'custom', path, message: code, ...(details && { params: details }) });
});

export type PartProfile = z.infer<typeof partShape>;

/**
 * All that is wrong with a profile of the newest version, at once: what does not fit the shape, and, among the elements
 * that do, what contradicts another. Empty for a valid one. Sorted by place.
 */
export function profileFindings(raw: unknown): DocumentFinding[] {
	const shape = partShape.safeParse(raw);
	const misshapen = shape.success ? [] : shape.error.issues.flatMap(shapeFindings);
	const found = [...misshapen, ...crossCheck(shape.success ? shape.data : salvage(raw))];
	return found.sort((a, b) => order(a.path, b.path));
}

/** The profile's readable elements in their places; an unreadable one keeps its id, so that others may name it. */
function salvage(raw: unknown): Salvaged {
	const list = <T>(key: string, schema: z.ZodType<T>) => {
		const found = raw !== null && typeof raw === 'object' ? (raw as Record<string, unknown>)[key] : undefined;
		return Array.isArray(found) ? found.map((value: unknown) => schema.safeParse(value).data ?? { id: idOf(value) }) : [];
	};
	return {
		clock: list('clock', clockNode),
		timers: list('timers', timerProfile),
		wiring: list('wiring', route).filter((r) => 'from' in r),
		pins: list('pins', pin)
	};
}

function idOf(value: unknown): string {
	const found = value !== null && typeof value === 'object' ? (value as Record<string, unknown>).id : undefined;
	return typeof found === 'string' ? found : '';
}

function order(a: DocumentFinding['path'], b: DocumentFinding['path']): number {
	for (let i = 0; i < Math.min(a.length, b.length); i++) {
		if (a[i] === b[i]) continue;
		return typeof a[i] === 'number' && typeof b[i] === 'number' ? Number(a[i]) - Number(b[i]) : String(a[i]) < String(b[i]) ? -1 : 1;
	}
	return a.length - b.length;
}
