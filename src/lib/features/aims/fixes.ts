import type { Aim, LinkName } from '../../../core/aims/index.js';
import { checkPlan, servers, type Finding } from '../../../core/check/index.js';
import { applyStep, derivePlan, joinSteps, placedOn, setStep, type Plan, type Step } from '../../../core/plan/index.js';
import { linkName } from '../../text/index.js';

/** A step that ends a finding, with the words for its button. */
export interface Fix {
	text: string;
	step: Step;
}

/** What one press can do about a finding; none where only a person can say. */
export function fixesOf(plan: Plan, finding: Finding): Fix[] {
	const index = plan.aims.findIndex(({ id }) => id === finding.aim);
	const aim = plan.aims.at(index);
	if (index < 0 || !aim) return [];
	const fixes = FIXES[finding.code] as ((f: Finding, desk: FixDesk) => Fix[]) | undefined;
	return fixes?.(finding, new FixDesk(plan, aim, index)) ?? [];
}

/** Makes fixes of one aim. */
class FixDesk {
	private readonly name: string;

	constructor(
		readonly plan: Plan,
		readonly aim: Aim,
		private readonly index: number
	) {
		this.name = aim.name || 'an aim';
	}

	/** Sets a field. */
	set(key: string, value: string, text: string): Fix {
		return this.at([key], value, text);
	}

	/** Holds a link, or lets it go. */
	hold(link: LinkName, value: number | undefined, text: string): Fix {
		return this.at(['locks', link], value === undefined ? undefined : String(value), text);
	}

	/** A value at a place within the aim. */
	at(path: (string | number)[], value: string | undefined, text: string, label = `${text}: ${this.name}`): Fix {
		return { text, step: setStep(this.plan, ['aims', this.index, ...path], value, label) };
	}

	/** The whole aim in another shape. */
	replace(aim: Aim, text: string, label = `${text}: ${this.name}`): Fix {
		return { text, step: setStep(this.plan, ['aims', this.index], aim, label) };
	}

	letGo(links: readonly LinkName[]): Fix[] {
		const held = links.filter((link) => Object.hasOwn(this.aim.locks, link));
		return held.map((link) => this.hold(link, undefined, `Let go of ${SPOKEN[link] ?? linkName(link)}`));
	}

	holdAll(links: readonly { link: LinkName; value: number }[]): Fix {
		const text = `Hold ${links.map(({ value }) => value).join(' and ')}`;
		const steps = links.map(({ link, value }) => setStep(this.plan, ['aims', this.index, 'locks', link], String(value), text));
		return { text, step: joinSteps(`${text}: ${this.name}`, steps) };
	}

	/** A move to the first other timer that serves, one of those that the finding names before others. */
	moves(names: readonly string[] = []): Fix[] {
		const able = servers(this.plan, this.aim).filter(({ own, aim, faults }) => !own && aim && faults.length === 0);
		const found = able.find(({ timer }) => names.includes(timer.name)) ?? able[0];
		return found?.aim ? [this.replace(found.aim, `Move to ${found.timer.name}`)] : [];
	}

	/** Is the finding gone after it? */
	ends({ step }: Fix, { code, aim }: Finding): boolean {
		return !checkPlan(derivePlan(applyStep(this.plan, step))).some((finding) => finding.code === code && finding.aim === aim);
	}
}

const SPOKEN: Partial<Record<LinkName, string>> = { dead: 'the dead time', lead: 'the leader’s compare' };

type Of<C extends Finding['code']> = Extract<Finding, { code: C }>;

const moves = (finding: Finding, desk: FixDesk) =>
	desk.moves('reach' in finding ? finding.reach.flatMap((way) => (way.by === 'timer' ? [way.timer] : [])) : []);
const countOverflows = (_: Finding, desk: FixDesk) => [desk.set('overflows', 'counted', 'Count overflows')];

/** Where another input or another timer is reached by the leader's event. */
function reroute({ nearest }: Of<'no-route'>, desk: FixDesk): Fix[] {
	if (!nearest) return [];
	if (nearest.timer === desk.aim.timer) return [desk.set('input', nearest.input, 'Take the input that it reaches')];
	const timer = desk.plan.part.timers.find(({ id }) => id === nearest.timer);
	const moved = timer && placedOn(desk.aim, timer, desk.plan);
	if (!moved) return [];
	return [desk.replace({ ...moved, ...('input' in moved && { input: 'auto' }) }, `Move to ${timer.name}`)];
}

/** A pin of its own choice is given back; otherwise another timer may have one. */
function freePin({ what }: { what: string }, desk: FixDesk): Fix[] {
	if (!Object.hasOwn(desk.aim.pins, what)) return desk.moves();
	return [desk.at(['pins', what], undefined, 'Take a free pin', `take a free pin for ${desk.aim.name || 'an aim'}`)];
}

function leaveToPart({ open }: Of<'channel-no-pulse'>, desk: FixDesk): Fix[] {
	if (open || !('output' in desk.aim)) return [];
	return [
		desk.replace({ ...desk.aim, align: 'auto', output: 'auto' }, 'Leave it to the part', `leave the output of ${desk.aim.name} to the part`)
	];
}

function otherFilter({ fits }: Of<'filter-too-slow'>, desk: FixDesk): Fix[] {
	return [fits === undefined ? desk.set('filter', 'none', 'Take no filter') : desk.set('filter', String(fits), 'Take a faster filter')];
}

function otherMode({ better }: Of<'software-late'>, desk: FixDesk): Fix[] {
	return better ? [desk.set('mode', better, better === 'up' ? 'Count up to a reload' : 'Advance the compare')] : [];
}

function finerMethod(finding: Of<'capture-coarse'>, desk: FixDesk): Fix[] {
	if (!('method' in desk.aim) || desk.aim.method !== 'capture') return [];
	return [desk.set('method', 'switched', 'Count edges where that is finer')].filter((fix) => desk.ends(fix, finding));
}

/** What can be pressed, by the code of the finding. */
const FIXES: { [C in Finding['code']]?: (f: Of<C>, desk: FixDesk) => Fix[] } = {
	'locks-conflict': ({ links }, desk) => desk.letGo(links),
	'lock-overruled': ({ links }, desk) => desk.letGo(links),
	'lock-refused': ({ link }, desk) => desk.letGo([link]),
	'held-compare-off': ({ compare }, desk) => [
		desk.hold('compare', compare, `Hold ${compare}`),
		desk.hold('compare', undefined, 'Let go of compare')
	],
	'held-bytes-swapped': ({ value }, desk) => [desk.hold('reload', value, `Hold ${value}`)],
	'held-off-by-one': ({ links }, desk) => [desk.holdAll(links)],
	'held-other-clock': (_, desk) => desk.letGo(['prescale', 'reload']),
	'table-late': (_, desk) => [desk.set('prefill', 'yes', 'Fill before the start')],
	unbuffered: (_, desk) => [desk.set('writes', 'buffered', 'Write buffered')],
	'cannot-buffer': ({ writes }, desk) => (writes === 'immediate' ? [desk.set('writes', 'buffered', 'Write buffered')] : []),
	'capture-wraps': countOverflows,
	'width-wraps': countOverflows,
	'capture-coarse': finerMethod,
	'filter-too-slow': otherFilter,
	'part-as-percent': ({ exact }, desk) => [desk.set('lag', exact, `Take ${exact}`)],
	drifts: (_, desk) => [desk.set('action', 'reset', 'Reset it each period')],
	'bounce-restarts': (_, desk) => [desk.set('retrigger', 'ignore', 'Ignore further edges')],
	'software-late': otherMode,
	'no-interrupt': (_, desk) => [desk.set('notice', 'polling', 'Notice it by polling')],
	'no-route': reroute,
	'no-action': (_, desk) => ('leader' in desk.aim && desk.aim.input !== 'auto' ? [desk.set('input', 'auto', 'Take a fitting input')] : []),
	'channel-no-pulse': leaveToPart,
	'full-duty-unreachable': ({ ticks }, desk) => [desk.hold('reload', ticks - 2, `Hold reload ${ticks - 2}`)],
	'pin-shared': freePin,
	'pin-missing': freePin,
	'pin-not-led': freePin,
	'bit-not-pin': ({ index, own }, desk) => [
		desk.at(['lines', index, 'bit'], String(own), `Take bit ${own}`, `set a bit of ${desk.aim.name}`)
	],
	'reload-blocks': (_, desk) => desk.letGo(['reload']),
	'repeat-shared': ({ count }, desk) => [desk.set('repeat', String(count), `Repeat ${count}, too`)],
	'updates-shared': ({ at }, desk) => [desk.set('updates', at, 'Ask for the same')],
	'updates-refused': (_, desk) => [desk.set('updates', 'auto', 'Leave it to the timer')],
	'updates-idle': (_, desk) => [desk.set('updates', 'auto', 'Leave it to the timer')],
	'output-off': (_, desk) => [desk.set('enable', 'on', 'Enable the output')],
	'interrupt-off': (_, desk) => [desk.set('interrupt', 'on', 'Enable the interrupt')],
	'flag-kept': (_, desk) => [desk.set('flag', 'cleared', 'Clear the flag')],
	'priority-differs': ({ handler }, desk) => [desk.set('priority', handler, `Set priority ${handler}`)],
	'legs-need-halves': (_, desk) => [desk.set('legs', 'none', 'Do without slow legs')],
	'lead-twice': (_, desk) => [desk.set('action', 'start', 'Start it once instead')],
	'reset-cuts': moves,
	'trigger-shared': moves,
	'period-moves': moves,
	'stream-taken': moves,
	'timer-taken': moves,
	'mode-clash': moves,
	'channel-shared': moves,
	'reload-shared': moves,
	'timer-missing': moves,
	'channel-missing': moves,
	'rate-too-slow': moves,
	'time-too-long': moves,
	'rate-outside': moves,
	'bits-short': moves,
	'cannot-job': moves,
	'not-paced': moves
};
