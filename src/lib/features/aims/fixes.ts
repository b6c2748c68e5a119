import type { Aim, LinkName } from '../../../core/aims/index.js';
import { type Finding, checkPlan, servers } from '../../../core/check/index.js';
import { type Plan, type Step, applyStep, derivePlan, joinSteps, placedOn, setStep } from '../../../core/plan/index.js';

/** A step that ends a finding, with the words for its button. */
export interface Mend {
	text: string;
	step: Step;
}

/** What one press can do about a finding; none where only a person can say. */
export function mendsOf(plan: Plan, finding: Finding): Mend[] {
	const index = plan.aims.findIndex(({ id }) => id === finding.aim);
	const aim = plan.aims.at(index);
	return index < 0 || !aim ? [] : aimMends(plan, aim, index, finding);
}

function aimMends(plan: Plan, aim: Aim, index: number, finding: Finding): Mend[] {
	const name = aim.name || 'an aim';
	const set = (key: string, value: string, text: string): Mend => ({
		text,
		step: setStep(plan, ['aims', index, key], value, `${text}: ${name}`)
	});
	const hold = (link: LinkName, value: number | undefined, text: string): Mend => ({
		text,
		step: setStep(plan, ['aims', index, 'locks', link], value === undefined ? undefined : String(value), `${text}: ${name}`)
	});
	const letGo = (links: readonly LinkName[]) =>
		links.filter((link) => Object.hasOwn(aim.locks, link)).map((link) => hold(link, undefined, `Let go of ${LINKS[link] ?? link}`));
	switch (finding.code) {
		case 'locks-conflict':
		case 'lock-overruled':
			return letGo(finding.links);
		case 'lock-refused':
			return letGo([finding.link]);
		case 'held-compare-off':
			return [hold('compare', finding.compare, `Hold ${finding.compare}`), hold('compare', undefined, 'Let go of compare')];
		case 'held-bytes-swapped':
			return [hold('reload', finding.value, `Hold ${finding.value}`)];
		case 'held-off-by-one': {
			const text = `Hold ${finding.links.map(({ value }) => value).join(' and ')}`;
			const steps = finding.links.map(({ link, value }) => setStep(plan, ['aims', index, 'locks', link], String(value), text));
			return [{ text, step: joinSteps(`${text}: ${name}`, steps) }];
		}
		case 'held-other-clock':
			return letGo(['prescale', 'reload']);
		case 'table-late':
			return [set('prefill', 'yes', 'Fill before the start')];
		case 'unbuffered':
			return [set('writes', 'buffered', 'Write buffered')];
		case 'cannot-buffer':
			return finding.writes === 'immediate' ? [set('writes', 'buffered', 'Write buffered')] : [];
		case 'capture-wraps':
		case 'width-wraps':
			return [set('overflows', 'counted', 'Count overflows')];
		case 'capture-coarse':
			return aim.kind === 'capture' && aim.method === 'capture'
				? [set('method', 'switched', 'Count edges where that is finer')].filter((mend) => ends(plan, mend, finding))
				: [];
		case 'filter-too-slow':
			return [
				set(
					'filter',
					finding.fits === undefined ? 'none' : String(finding.fits),
					finding.fits === undefined ? 'Take no filter' : 'Take a faster filter'
				)
			];
		case 'part-as-percent':
			return [set('lag', finding.exact, `Take ${finding.exact}`)];
		case 'drifts':
			return [set('action', 'reset', 'Reset it each period')];
		case 'bounce-restarts':
			return [set('retrigger', 'ignore', 'Ignore further edges')];
		case 'software-late':
			return finding.better ? [set('mode', finding.better, finding.better === 'up' ? 'Count up to a reload' : 'Advance the compare')] : [];
		case 'no-interrupt':
			return [set('notice', 'polling', 'Notice it by polling')];
		case 'no-route': {
			const { nearest } = finding;
			if (!nearest) return [];
			if (nearest.timer === aim.timer) return [set('input', nearest.input, 'Take the input that it reaches')];
			const timer = plan.part.timers.find(({ id }) => id === nearest.timer);
			const moved = timer && placedOn(aim, timer, plan);
			if (!moved) return [];
			const text = `Move to ${plan.part.timers.find(({ id }) => id === nearest.timer)?.name ?? nearest.timer}`;
			return [{ text, step: setStep(plan, ['aims', index], { ...moved, ...('input' in moved && { input: 'auto' }) }, `${text}: ${name}`) }];
		}
		case 'no-action':
			return aim.kind === 'follower' && aim.input !== 'auto' ? [set('input', 'auto', 'Take a fitting input')] : [];
		case 'channel-no-pulse':
			return finding.open || aim.kind !== 'pwm'
				? []
				: [
						{
							text: 'Leave it to the part',
							step: setStep(plan, ['aims', index], { ...aim, align: 'auto', output: 'auto' }, `leave the output of ${name} to the part`)
						}
					];
		case 'full-duty-unreachable':
			return aim.kind === 'pwm' ? [hold('reload', finding.ticks - 2, `Hold reload ${finding.ticks - 2}`)] : [];
		case 'pin-shared':
		case 'pin-missing':
		case 'pin-not-led':
			return Object.hasOwn(aim.pins, finding.what)
				? [
						{
							text: 'Take a free pin',
							step: setStep(plan, ['aims', index, 'pins', finding.what], undefined, `take a free pin for ${name}`)
						}
					]
				: moves(plan, aim, index);
		case 'timer-taken':
		case 'mode-clash':
		case 'channel-shared':
		case 'reload-shared':
		case 'timer-missing':
		case 'channel-missing':
		case 'rate-too-slow':
		case 'time-too-long':
		case 'rate-outside':
		case 'bits-short':
		case 'cannot-job':
		case 'not-paced':
			return moves(plan, aim, index);
		default:
			return [];
	}
}

const LINKS: Partial<Record<LinkName, string>> = { dead: 'the dead time', lead: 'the leader’s compare' };

/** A move to the first other timer that serves. */
function moves(plan: Plan, aim: Aim, index: number): Mend[] {
	const found = servers(plan, aim).find(({ own, aim: moved, faults }) => !own && moved && faults.length === 0);
	if (!found?.aim) return [];
	const text = `Move to ${found.timer.name}`;
	return [{ text, step: setStep(plan, ['aims', index], found.aim, `${text}: ${aim.name || 'an aim'}`) }];
}

/** Is the finding gone after it? */
function ends(plan: Plan, { step }: Mend, { code, aim }: Finding): boolean {
	return !checkPlan(derivePlan(applyStep(plan, step))).some((finding) => finding.code === code && finding.aim === aim);
}
