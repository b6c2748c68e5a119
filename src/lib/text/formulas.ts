import { Rational } from '../../core/exact/index.js';
import { decimal, hertz, percent, seconds } from './numbers.js';
import { ordinal } from './words.js';

/** The numbers of a formula, by name. */
type Numbers = Readonly<Record<string, Rational>>;

/** A formula with its numbers in it. */
export function formulaText({ code, numbers }: { code: string; numbers: Numbers }): string {
	return about(FORMULAS[code]?.(numbers) ?? code);
}

const HALF = Rational.ratio(1, 2);

/** An exact value and what is set for it: the same, rounded, or something else that is held or another aim's. */
function becomes(exact: Rational, set: Rational): string {
	const off = set.sub(exact);
	if (off.sign === 0) return decimal(exact, 8);
	return `${decimal(exact, 8)}${off.abs().compare(HALF) <= 0 ? ' → ' : ', but set is '}${decimal(set)}`;
}

/** A whole number with all of its digits. */
function whole(value: Rational): string {
	return value.num.toString();
}

function activeText(n: Numbers, from: string): string {
	return `active ticks = ${from} = ${becomes(n.wanted, n.active)}; compare = ${whole(n.compare)}`;
}

/** An equation whose right side is rounded says so in its sign. */
function about(equation: string): string {
	return equation.replaceAll('= ≈', '≈ ');
}

const FORMULAS: Record<string, (n: Numbers) => string> = {
	period: (n) => `T = f_k ÷ (P × f) = ${hertz(n.kernel)} ÷ (${whole(n.prescale)} × ${hertz(n.wish)}) = ${becomes(n.exact, n.ticks)} ticks`,
	'reload-updown': (n) => `reload = T ÷ 2 = ${whole(n.ticks)} ÷ 2 = ${whole(n.reload)}`,
	'reload-inclusive': (n) => `reload = T − 1 = ${whole(n.ticks)} − 1 = ${whole(n.reload)}`,
	'reload-exclusive': (n) =>
		n.reload.sign === 0 ? `reload = 0, which stands for 2^w = ${whole(n.ticks)} ticks` : `reload = T = ${whole(n.ticks)}`,
	'active-ratio': (n) => activeText(n, `duty × T = ${percent(n.duty)} × ${whole(n.ticks)}`),
	'active-on': (n) => activeText(n, `on-time × f_k ÷ P = ${seconds(n.time)} × ${hertz(n.tickRate)}`),
	'active-off': (n) => activeText(n, `T − off-time × f_k ÷ P = ${whole(n.ticks)} − ${seconds(n.time)} × ${hertz(n.tickRate)}`),
	'active-ticks': (n) => activeText(n, 'as wished'),
	tick: (n) =>
		`ticks = t × f_k ÷ P = ${seconds(n.wish)} × ${hertz(n.kernel)} ÷ ${decimal(n.prescale)} = ${becomes(n.wish.mul(n.kernel).div(n.prescale), n.ticks)}`,
	up: (n) => `reload = ${decimal(n.value)}: ${decimal(n.ticks)} ticks from event to event`,
	down: (n) => `reload = ${decimal(n.value)}: ${decimal(n.ticks)} ticks from event to event`,
	updown: (n) => `reload = ticks ÷ 2 = ${decimal(n.value)}`,
	'updown-twice': (n) => `reload = ticks = ${decimal(n.value)}: one event at each end of the period`,
	repeated: (n) => `one event every ${decimal(n.periods)} periods: ${decimal(n.ticks)} ticks, reload = ${decimal(n.value)}`,
	postscale: (n) => `every ${ordinal(Number(n.post.num))} update asks for service: the postscaler leaves the others out`,
	free: (n) => `it wraps every ${decimal(n.full)} ticks`,
	preload: (n) =>
		`preload = 2^w − ticks${n.late.sign > 0 ? ` + ${decimal(n.late)} late` : ''} = ${decimal(n.full)} − ${decimal(n.ticks)}${n.late.sign > 0 ? ` + ${decimal(n.late)}` : ''} = ${decimal(n.value)}`,
	tap: (n) => `bit ${decimal(n.value)} rises every 2^${decimal(n.value)} × 2 = ${decimal(n.ticks)} ticks`,
	advance: (n) => `compare is moved on by ${decimal(n.value)} at each match: no drift, however late the service`,
	clear: (n) => `compare = ticks − 1${n.late.sign > 0 ? ` − ${decimal(n.late)} late` : ''} = ${decimal(n.value)}`,
	capture: (n) =>
		`f = k × f_t ÷ dN; one count at ${hertz(n.highest)} is f ÷ (k × f_t) = ${hertz(n.highest)} ÷ (${decimal(n.every)} × ${hertz(n.tickRate)}) = ${percent(n.step, 4)}`,
	'capture-lowest': (n) =>
		`lowest f = k × f_t ÷ (2^w − 1) = ${decimal(n.every)} × ${hertz(n.tickRate)} ÷ ${decimal(n.full)} = ${hertz(n.lowest)}`,
	toggle: (n) => `f = f_k ÷ (P × T × 2) = ${hertz(n.kernel)} ÷ (${decimal(n.prescale)} × ${decimal(n.ticks)} × 2) = ${hertz(n.hz)}`,
	pair: (n) => {
		const exact = n.dead.mul(n.clock);
		const enough = n.cycles.compare(exact) >= 0 ? ', the fewest that can be set and are enough' : ', which are too few';
		return `dead time = ${seconds(n.dead)} × ${hertz(n.clock)} = ${decimal(exact, 8)} cycles; code ${decimal(n.code)} makes ${decimal(n.cycles)}${enough}`;
	},
	encoder: (n) =>
		`counts = cycles × edges × turns = ${decimal(n.cycles)} × ${decimal(n.times)} × ${decimal(n.turns)} = ${decimal(n.counts)}`,
	oneshot: (n) => {
		const rate = n.kernel.div(n.prescale);
		const less = n.delayTicks.add(n.widthTicks).sub(n.reload).sign > 0 ? ' − 1' : '';
		return `f_t = ${hertz(n.kernel)} ÷ ${decimal(n.prescale)}; delay × f_t = ${becomes(n.delay.mul(rate), n.delayTicks)} ticks, the compare; width × f_t = ${becomes(n.width.mul(rate), n.widthTicks)}; reload = ${decimal(n.delayTicks)} + ${decimal(n.widthTicks)}${less} = ${decimal(n.reload)}`;
	},
	'elapsed-down': (n) =>
		`elapsed = (first − second) mod T = (${decimal(n.from)} − ${decimal(n.to)}) mod ${decimal(n.full)} = ${decimal(n.ticks)} ticks, if it wrapped once at the most`,
	'round-tick': (n) => `of equals the roundest tick: P ÷ f_k = ${decimal(n.prescale)} ÷ ${hertz(n.kernel)} = ${seconds(n.tick)}`,
	'oneshot-leave': (n) =>
		`the match acts when the compare is left, a tick later: compare = ${decimal(n.delayTicks)} − 1 = ${decimal(n.compare)}`,
	knob: (n) =>
		`active ticks = low + count × (high − low) ÷ ${decimal(n.whole)} = ${decimal(n.low)} + count × ${decimal(n.high.sub(n.low))} ÷ ${decimal(n.whole)}, rounded; a count adds ${decimal(n.perCount)}`,
	'oneshot-exact': (n) => `${decimal(n.count)} prescales meet delay and width exactly; ${decimal(n.prescale)} is the finest of them`,
	elapsed: (n) =>
		`elapsed = (second − first) mod T = (${decimal(n.to)} − ${decimal(n.from)}) mod ${decimal(n.full)} = ${decimal(n.ticks)} ticks, if it wrapped once at the most`,
	gated: (n) => `f = N ÷ gate; one count at ${hertz(n.lowest)} is 1 ÷ (f × gate) = ${percent(n.step, 4)}`,
	crossover: (n) =>
		`both are equally fine where f² = k × f_t ÷ gate = ${decimal(n.every)} × ${hertz(n.tickRate)} ÷ ${seconds(n.gate)}: f ≈ ${hertz(n.root, 5)}`,
	width: (n) =>
		`ticks = width × f_t: from ${seconds(n.shortest)} × ${hertz(n.tickRate)} → ${decimal(n.from)} to ${seconds(n.longest)} × ${hertz(n.tickRate)} → ${decimal(n.to)}`,
	map: (n) =>
		`value = low + (high − low) × count ÷ ${decimal(n.whole)} = ${decimal(n.low)} + ${decimal(n.high.sub(n.low))} × count ÷ ${decimal(n.whole)}`,
	split: (n) =>
		`count = period ÷ tick = ${seconds(n.frame)} ÷ ${seconds(n.tick)} = ${becomes(n.frame.div(n.tick), n.count)}${n.count.equals(n.product) ? '' : `; factors come to ${decimal(n.product)}`}`,
	follow: (n) => {
		const event = n.ticks.mul(n.prescale).div(n.kernel);
		const seen = event.add(n.delay).equals(n.lag) ? '=' : ', at the follower’s next cycle:';
		return `lag = ticks × P ÷ f_k + latency = ${decimal(n.ticks)} × ${decimal(n.prescale)} ÷ ${hertz(n.kernel)} + ${decimal(n.latency)} cycles ${seen} ${seconds(n.lag)}; × 360 ÷ ${seconds(n.period)} = ${decimal(n.degrees)} deg`;
	},
	'follow-event': (n) => {
		const event = n.lag.sub(n.delay);
		return `lag = ${event.sign === 0 ? '' : `${seconds(event)} to the event + `}latency of ${decimal(n.latency)} cycles = ${seconds(n.lag)}, ${decimal(n.degrees, 5)} deg of ${seconds(n.period)}`;
	},
	cascade: (n) => `period = leader × P × T = ${seconds(n.leader)} × ${decimal(n.prescale)} × ${decimal(n.ticks)} = ${seconds(n.period)}`,
	gate: (n) => `periods = open ÷ period = ${seconds(n.on)} ÷ ${seconds(n.own)} = ${decimal(n.count)}`,
	rows: (n) =>
		`rows = updates ÷ base${n.carrier.div(n.base).equals(n.rows) ? '' : ' ÷ 2'} = ${hertz(n.carrier)} ÷ ${hertz(n.base)}${n.carrier.div(n.base).equals(n.rows) ? '' : ' ÷ 2'} = ${becomes(n.rows, n.count)}`,
	pattern: (n) => `length = words ÷ rate = ${decimal(n.count)} ÷ ${hertz(n.rate)} = ${seconds(n.length)}`
};
