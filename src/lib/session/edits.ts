import { type Aim, type AimDerivation, type AimKindName, kindOf } from '../../core/aims/index.js';
import { type Plan, type Reading, joinSteps, newAim, placesOf, readTypedAim, removeStep, setStep } from '../../core/plan/index.js';
import { type Finding, servers } from '../../core/check/index.js';
import { kindWords } from '../text/index.js';
import { notices } from './notices.svelte.js';
import type { PlanSession } from './session.svelte.js';

/** Edits that more than one place of the screen makes, each one undoable step. */

/** Adds an aim of a kind on the first timer that can do it, a pulse unless another is asked for; undefined where the part has none. */
export function addAim(session: PlanSession, kind: AimKindName = 'pwm'): string | undefined {
	const { plan } = session;
	const id = crypto.randomUUID();
	const aim = newAim(kind, id, `${kindWords(kind).begin} ${plan.aims.length + 1}`, plan);
	if (!aim) return undefined;
	session.insert(['aims', plan.aims.length], served(plan, aim) ?? aim, 'add an aim');
	return id;
}

/** The aim on the first timer on which it and all others are met, its own before others; undefined where there is none. */
function served(plan: Plan, aim: Aim): Aim | undefined {
	const all = { ...plan, aims: [...plan.aims, aim] };
	const able = servers(all, aim).filter((one) => one.aim && one.faults.length === 0);
	return (able.find(({ own }) => own) ?? able[0])?.aim;
}

/** What a typed line would add: the aim where it is met, or the likeliest place and what is wrong with it there; undefined for a line that says no aim. */
export interface TypedOffer {
	aim: Aim;
	derivation?: AimDerivation;
	/** The first fault that stands in its way. */
	fault?: Finding;
}

export function typedOffer(plan: Plan, line: string): TypedOffer | { missing: string } | undefined {
	const typed = readTypedAim(line);
	if (!typed) return undefined;
	const title = `${kindWords(typed.kind).begin} ${plan.aims.length + 1}`;
	const places = placesOf(typed, crypto.randomUUID(), title, plan);
	if (places.length === 0)
		return { missing: typed.pin === undefined ? kindWords(typed.kind).cannot : `has nothing for this at ${typed.pin}` };
	// A pin that was named is where it goes; otherwise any timer will do.
	const tried = places.flatMap((aim) =>
		servers({ ...plan, aims: [...plan.aims, aim] }, aim).filter(({ own, aim: there }) => there && (own || typed.pin === undefined))
	);
	const best = tried.find(({ faults }) => faults.length === 0) ?? tried[0];
	if (!best?.aim) return { aim: places[0] };
	return { aim: best.aim, ...(best.derivation && { derivation: best.derivation }), ...(best.faults[0] && { fault: best.faults[0] }) };
}

/** A copy of the aim behind it, on the next free channel where it can stand beside others of its kind. Returns its id. */
export function duplicateAim(session: PlanSession, { id: of }: Pick<Aim, 'id'>): string {
	const { plan } = session;
	const aim = plan.aims.find((one) => one.id === of)!;
	const id = crypto.randomUUID();
	const twin: Aim = { ...aim, id, name: `${aim.name} copy`.slice(0, 120) };
	const place = kindOf(aim).join && newAim(aim.kind, id, twin.name, plan);
	const copy = place && 'channel' in place ? { ...twin, timer: place.timer, channel: place.channel } : twin;
	session.insert(['aims', plan.aims.indexOf(aim) + 1], copy, `copy ${aim.name}`);
	return id;
}

/** Takes an aim out, and with it what was mapped to it, read of it, and came to its input; says so, with a way back. */
export function removeAim(session: PlanSession, aim: Pick<Aim, 'id' | 'name'>): void {
	const { plan } = session;
	// From the last to the first, so that places stay what they are.
	const steps = (['mappings', 'readings', 'sweeps'] as const).flatMap((list) =>
		plan[list].flatMap((one, i) => (one.aim === aim.id ? [removeStep(plan, [list, i], '')] : [])).reverse()
	);
	if (Object.hasOwn(plan.stimuli, aim.id)) steps.push(setStep(plan, ['stimuli', aim.id], undefined, ''));
	steps.push(removeStep(plan, ['aims', plan.aims.findIndex(({ id }) => id === aim.id)], ''));
	session.edit(joinSteps(`delete ${aim.name}`, steps));
	offerUndo(session, `${aim.name || 'The aim'} was deleted.`);
}

/** Tells what was just done, with a press that takes it back. */
export function offerUndo(session: PlanSession, text: string): void {
	notices.say(text, { label: 'Undo', run: () => session.undo() });
}

/** Which line of which aim a recorded line shows; `role` is left out for an aim with one line. */
export interface LineChoice {
	aim: string;
	role?: string;
}

/** Maps a recorded line to a line of an aim, or to none; the line's earlier mapping is replaced. Returns the mapping's id. */
export function mapLine(session: PlanSession, recording: string, line: string, choice: LineChoice | undefined): string | undefined {
	const { plan } = session;
	const at = plan.mappings.findIndex((m) => m.recording === recording && m.line === line);
	if (at >= 0) {
		const before = plan.mappings[at];
		const label = choice ? 'map a line to another aim' : 'take a mapping away';
		if (choice === undefined) session.edit(removeStep(plan, ['mappings', at], label));
		else if (choice.aim !== before.aim || choice.role !== before.role)
			session.edit(
				joinSteps(label, [setStep(plan, ['mappings', at, 'aim'], choice.aim, ''), setStep(plan, ['mappings', at, 'role'], choice.role, '')])
			);
		return choice && before.id;
	}
	if (choice === undefined) return undefined;
	const id = crypto.randomUUID();
	session.insert(['mappings', plan.mappings.length], { id, recording, line, ...choice, instrument: '0' }, 'map a line to an aim');
	return id;
}

/** Adds a reading of a quantity behind the others, by the instrument of the one before. */
export function addReading(session: PlanSession, { aim, of, line }: Pick<Reading, 'aim' | 'of' | 'line'>, value = ''): void {
	const { readings } = session.plan;
	const reading: Reading = { aim, of, line, id: crypto.randomUUID(), value, error: '', by: readings.at(-1)?.by ?? '' };
	session.insert(['readings', readings.length], reading, value === '' ? 'add a reading' : 'type a reading');
}
