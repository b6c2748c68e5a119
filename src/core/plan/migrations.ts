import { upgradeProfile } from '../part/index.js';
import type { Step } from './steps.js';

type Plain = Record<string, unknown>;
type Migration = (old: Plain) => Plain;

/** What brings a document from version n to n + 1, at index n - 1. */
const MIGRATIONS: Migration[] = [addClockWishes, addKinds, addChoices, addRunning, addFreedoms, addBench, addReadings, addLayings];

/** Recordings laid by hand, what the firmware said of a recorded input, and parts that may have registers. */
function addLayings(old: Plain): Plain {
	const stimuli = Object.entries((old.stimuli ?? {}) as Record<string, Plain>).map(([aim, one]): [string, Plain] => [aim, withLog(one)]);
	return { ...old, version: 9, part: upgradeProfile(old.part), layings: {}, stimuli: Object.fromEntries(stimuli) };
}

const withLog = (stimulus: Plain): Plain => (stimulus.kind === 'recorded' ? { log: '', ...stimulus } : stimulus);

/** Typed readings, sweeps, and the instruments that they come from. */
function addReadings(old: Plain): Plain {
	return { ...old, version: 8, instruments: [], readings: [], sweeps: [] };
}

/** Marks and cards of the bench. */
function addBench(old: Plain): Plain {
	return { ...old, version: 7, marks: [], zero: '', cards: [] };
}

/** What an aim of version 5 did not say yet, as it was meant. */
const UNSAID_FREEDOMS: Record<string, object> = {
	pair: { align: 'auto', updates: 'auto' },
	table: { align: 'auto', updates: 'auto', further: [], legs: 'none', plus: '', minus: '', legsAfter: '1', legsDead: '2 us' },
	oneshot: { each: 'pulse' },
	encoder: { drives: '' }
};

/** Ways of counting for every pulse, further outputs and slow legs of a shape, shots that toggle, counts that drive a duty. */
function addFreedoms(old: Plain): Plain {
	const aims = old.aims as Plain[] | undefined;
	return { ...old, version: 6, aims: aims?.map((aim) => ({ ...UNSAID_FREEDOMS[String(aim?.kind)], ...aim })) };
}

/** What comes from outside while the plan runs, and the filter behind a shape's pin. */
function addRunning(old: Plain): Plain {
	const aims = old.aims as Plain[] | undefined;
	const unsaid: Record<string, object> = { table: { filter: 'rc', resistance: '1 kOhm', capacitance: '1 uF', inductance: '10 mH' } };
	return { ...old, version: 5, aims: aims?.map((aim) => ({ ...unsaid[String(aim?.kind)], ...aim })), stimuli: {}, changes: [] };
}

/** What an aim of version 3 did not say yet, as it was meant. */
const UNSAID: Record<string, object> = {
	pwm: { align: 'auto', output: 'auto', begin: '', sweep: '', over: '1 s', writes: 'buffered' },
	tick: { from: '', to: '' },
	capture: { filter: 'none', method: 'capture', gate: '100 ms' },
	encoder: { start: '0', low: '', high: '' },
	oneshot: { bounce: '' }
};

/** Groups, pins and held links for every kind, and the new choices of each. */
function addChoices(old: Plain): Plain {
	const aims = old.aims as Plain[] | undefined;
	return { ...old, version: 4, aims: aims?.map((aim) => ({ group: '', pins: {}, locks: {}, ...UNSAID[String(aim?.kind)], ...aim })) };
}

/** Until then every aim was a pulse; those stay as they are. */
function addKinds(old: Plain): Plain {
	return { ...old, version: 3 };
}

function addClockWishes(old: Plain): Plain {
	return { ...old, version: 2, part: upgradeProfile(old.part), labels: {}, wishes: [], held: [] };
}

/** A document of an older version as one of the newest. */
export function upgradeDocument(raw: { version: number }): unknown {
	return MIGRATIONS.slice(raw.version - 1).reduce<Plain>((doc, migrate) => migrate(doc), raw as unknown as Plain);
}

/**
 * A step that was stored before a migration, as it would be made now: what it put in or took out goes the way of the document's own
 * parts. Every migration leaves alone what it has changed already, so the version of a step need not be known.
 */
export function upgradeStep(step: Step): Step {
	return { ...step, parts: step.parts.map(upgradePart) };
}

type Part = Step['parts'][number];

function upgradePart(part: Part): Part {
	if (part.kind === 'move') return part;
	const upgraded = (value: unknown) => upgradeFragment(part.path, value);
	if (part.kind !== 'set') return { ...part, value: upgraded(part.value) as typeof part.value };
	const { before, after } = part;
	return {
		...part,
		...(before !== undefined && { before: upgraded(before) as typeof before }),
		...(after !== undefined && { after: upgraded(after) as typeof after })
	};
}

/** A part of a document at its path: an aim, all aims, the part's profile, or what comes to an input; anything below them is text. */
function upgradeFragment(path: Part['path'], value: unknown): unknown {
	const [top] = path;
	if (top === 'part' && path.length === 1) return upgradeProfile(value);
	if (top === 'stimuli' && path.length === 2 && value !== null && typeof value === 'object') return withLog(value as Plain);
	if (top !== 'aims' || path.length > 2 || value === null || typeof value !== 'object') return value;
	const frame = { version: 1, part: null, aims: path.length === 1 ? value : [value] };
	const { aims } = upgradeDocument(frame) as { aims: unknown[] };
	return path.length === 1 ? aims : aims[0];
}

/** Aims, mappings and the like of which two have one id: the later ones get another. */
export function mendTwins(document: Plain): Plain {
	const mended = Object.fromEntries(
		['aims', 'mappings', 'wishes', 'changes', 'marks', 'cards'].flatMap((name) => {
			const list = document[name];
			return Array.isArray(list) ? [[name, apart(list as { id: string }[])]] : [];
		})
	);
	return { ...document, ...mended };
}

function apart(list: readonly { id: string }[]): { id: string }[] {
	const seen = new Set<string>();
	return list.map((one) => {
		let { id } = one;
		for (let n = 2; seen.has(id); n++) id = `${one.id.slice(0, 58)}-${n}`;
		seen.add(id);
		return id === one.id ? one : { ...one, id };
	});
}
