import { servers } from '../../core/check/index.js';
import {
	joinSteps,
	newJob,
	newPwmAim,
	pulsePlaces,
	pwmAims,
	removeStep,
	setStep,
	type Aim,
	type JobKind,
	type Plan,
	type PwmAim
} from '../../core/plan/index.js';
import { notices } from './notices.svelte.js';
import type { PlanSession } from './session.svelte.js';

/** Edits that more than one place of the screen makes, each one undoable step. */

/** Adds a PWM aim on the first free channel (or the first at all) and returns its id. */
export function addAim(session: PlanSession): string {
	const { plan } = session;
	const [timer, channel] = freeChannel(plan) ?? ['none', 'none'];
	const id = crypto.randomUUID();
	const first = pwmAims(plan).find((aim) => aim.timer === timer);
	const aim: PwmAim = {
		...newPwmAim(id, `signal ${plan.aims.length + 1}`, timer, channel),
		...(first && { rate: first.rate, tolerance: first.tolerance })
	};
	session.insert(['aims', plan.aims.length], aim, 'add an aim');
	return id;
}

/** Adds an aim of another kind on the first timer that can do it; undefined where the part has none. */
export function addJob(session: PlanSession, kind: JobKind): string | undefined {
	const { plan } = session;
	const id = crypto.randomUUID();
	const job = newJob(kind, id, `${kind === 'oneshot' ? 'one-shot' : kind} ${plan.aims.length + 1}`, plan);
	if (!job) return undefined;
	// Where no timer is free, one that others leave something of may still serve.
	const taken = plan.aims.some(({ timer }) => timer === job.timer);
	const all = { ...plan, aims: [...plan.aims, job] };
	const served = taken ? servers(all, job).find(({ aim, faults }) => aim && faults.length === 0)?.aim : undefined;
	session.insert(['aims', plan.aims.length], served ?? job, 'add an aim');
	return id;
}

/** A copy of the aim behind it, on the next free channel. Returns its id. */
export function duplicateAim(session: PlanSession, aim: Aim): string {
	const { plan } = session;
	const free = aim.kind === 'pwm' ? freeChannel(plan) : undefined;
	const id = crypto.randomUUID();
	const twin: Aim = { ...aim, id, name: `${aim.name} copy`.slice(0, 120) };
	const copy: Aim = free && twin.kind === 'pwm' ? { ...twin, timer: free[0], channel: free[1] } : twin;
	session.insert(['aims', plan.aims.indexOf(aim) + 1], copy, `copy ${aim.name}`);
	return id;
}

/** Takes an aim out, and with it what was mapped to it and what came to its input; says so, with a way back. */
export function removeAim(session: PlanSession, aim: Aim): void {
	const { plan } = session;
	const mapped = plan.mappings.map((m, i) => ({ m, i })).filter(({ m }) => m.aim === aim.id);
	const steps = mapped.reverse().map(({ i }) => removeStep(plan, ['mappings', i], ''));
	if (Object.hasOwn(plan.stimuli, aim.id)) steps.push(setStep(plan, ['stimuli', aim.id], undefined, ''));
	steps.push(removeStep(plan, ['aims', plan.aims.indexOf(aim)], ''));
	session.edit(joinSteps(`delete ${aim.name}`, steps));
	sayUndoable(session, `${aim.name || 'The aim'} was deleted.`);
}

/** Tells what was just done, with a press that takes it back. */
export function sayUndoable(session: PlanSession, text: string): void {
	notices.say(text, { label: 'Undo', run: () => session.undo() });
}

/** Maps a recorded line to an aim, or to none; the line's earlier mapping is replaced. Returns the mapping's id. */
export function mapLine(session: PlanSession, recording: string, line: string, aim: string | undefined): string | undefined {
	const { plan } = session;
	const at = plan.mappings.findIndex((m) => m.recording === recording && m.line === line);
	if (at >= 0) {
		const label = aim ? 'map a line to another aim' : 'take a mapping away';
		if (aim === undefined) session.edit(removeStep(plan, ['mappings', at], label));
		else if (aim !== plan.mappings[at].aim) session.edit(setStep(plan, ['mappings', at, 'aim'], aim, label));
		return aim && plan.mappings[at].id;
	}
	if (aim === undefined) return undefined;
	const id = crypto.randomUUID();
	session.insert(['mappings', plan.mappings.length], { id, recording, line, aim, instrument: '0' }, 'map a line to an aim');
	return id;
}

/** Timer and channel that no aim drives yet; undefined when all are taken, or the part has none. */
function freeChannel(plan: Plan): [string, string] | undefined {
	const all = pulsePlaces(plan.part).map(({ timer, channel }): [string, string] => [timer.id, channel.id]);
	const free = all.find(
		([timer, channel]) => !plan.aims.some((aim) => aim.timer === timer && (aim.kind !== 'pwm' || aim.channel === channel))
	);
	return free ?? all[0];
}
