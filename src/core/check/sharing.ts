import { Rational, type Hertz, type Seconds } from '../exact/index.js';
import type { AimDerivation } from '../aims/index.js';
import { leaderOf, type PlanDerivation } from '../plan/index.js';

/** What two aims have in common, as data. */
export type Shared =
	| { code: 'timer'; timer: string; decides?: string; prescale?: number; reload?: number }
	| { code: 'apart'; timers: [string, string] }
	| { code: 'clock'; node: string; hz: Hertz | null }
	| { code: 'no-clock' }
	| { code: 'follows'; follower: string; leader: string }
	| { code: 'rates'; ratio: Rational; meet: Seconds }
	| { code: 'pins'; pins: string[] }
	| { code: 'load'; load: Rational };

/** What the two share; in the order in which it weighs. */
export function sharedBy(derivation: PlanDerivation, a: string, b: string): Shared[] {
	const [one, two] = [a, b].map((id) => derivation.aims.find(({ aim }) => aim.id === id));
	if (!one || !two) return [];
	return [
		...timerOf(one, two),
		...followsOf(one, two),
		...clockOf(one, two),
		...ratesOf(one, two),
		...pinsOfBoth(derivation, a, b),
		...loadOf(one, two)
	];
}

function timerOf(one: AimDerivation, two: AimDerivation): Shared[] {
	if (!one.timer || !two.timer) return [];
	if (one.timer.id !== two.timer.id) return [{ code: 'apart', timers: [one.timer.name, two.timer.name] }];
	const use = one.use ?? two.use;
	const decides = use && { decides: use.aim.name, prescale: use.prescale, ...(use.reload !== undefined && { reload: use.reload }) };
	return [{ code: 'timer', timer: one.timer.name, ...decides }];
}

function followsOf(one: AimDerivation, two: AimDerivation): Shared[] {
	const leads = (leader: typeof one, follower: typeof one): Shared[] =>
		leaderOf(follower.aim) === leader.aim.id ? [{ code: 'follows', follower: follower.aim.name, leader: leader.aim.name }] : [];
	return [...leads(one, two), ...leads(two, one)];
}

/** The last clock node on both ways: what is changed up to there moves both. */
function clockOf(one: AimDerivation, two: AimDerivation): Shared[] {
	const there = new Set(two.clock.map(({ node }) => node.id));
	const common = one.clock.filter(({ node }) => there.has(node.id)).at(-1);
	return common ? [{ code: 'clock', node: common.node.id, hz: common.hz }] : [{ code: 'no-clock' }];
}

/** The rate of an aim's periods or events, where it has one. */
export function rateOf(derivation: AimDerivation): Hertz | undefined {
	return derivation.figures.find(({ name }) => name === 'rate' || name === 'pace' || name === 'carrier')?.value;
}

function ratesOf(one: AimDerivation, two: AimDerivation): Shared[] {
	const [first, second] = [rateOf(one), rateOf(two)];
	if (!first || !second) return [];
	const ratio = first.div(second);
	// In lowest terms num : den, both begin anew together after num periods of the first.
	return [{ code: 'rates', ratio, meet: Rational.of(ratio.num).div(first) }];
}

function pinsOfBoth({ pins }: PlanDerivation, a: string, b: string): Shared[] {
	const offers = (id: string) =>
		new Set(pins.filter(({ aim }) => aim === id).flatMap(({ offers: some }) => (some.length > 16 ? [] : some.map(({ name }) => name))));
	const [first, second] = [offers(a), offers(b)];
	const both = [...first].filter((name) => second.has(name));
	return both.length > 0 ? [{ code: 'pins', pins: both }] : [];
}

function loadOf(one: AimDerivation, two: AimDerivation): Shared[] {
	const loads = [one, two].map((d) => d.figures.find(({ name }) => name === 'load')?.value);
	return loads[0] && loads[1] ? [{ code: 'load', load: loads[0].add(loads[1]) }] : [];
}
