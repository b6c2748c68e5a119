import { Rational } from '../../core/exact/index.js';
import { decimal, hertz, percent, seconds } from './numbers.js';

/** The numbers of a formula, by name. */
type Numbers = Readonly<Record<string, Rational>>;

/** A formula with its numbers in it. */
export function formulaText({ code, numbers }: { code: string; numbers: Numbers }): string {
	return FORMULAS[code]?.(numbers) ?? code;
}

/** A whole number with all of its digits. */
function whole(value: Rational): string {
	return value.num.toString();
}

function activeText(n: Numbers, from: string): string {
	const rounded = n.wanted.equals(n.active) ? '' : ` → ${whole(n.active)}`;
	return about(`active ticks = ${from} = ${decimal(n.wanted, 8)}${rounded}; compare = ${whole(n.compare)}`);
}

/** An equation whose right side is rounded says so in its sign. */
function about(equation: string): string {
	return equation.replaceAll('= ≈', '≈ ');
}

const FORMULAS: Record<string, (n: Numbers) => string> = {
	period: (n) =>
		about(
			`T = f_k ÷ (P × f) = ${hertz(n.kernel)} ÷ (${whole(n.prescale)} × ${hertz(n.wish)}) = ${decimal(n.exact, 8)}${n.exact.equals(n.ticks) ? '' : ` → ${whole(n.ticks)}`} ticks`
		),
	'reload-updown': (n) => `reload = T ÷ 2 = ${whole(n.ticks)} ÷ 2 = ${whole(n.reload)}`,
	'reload-inclusive': (n) => `reload = T − 1 = ${whole(n.ticks)} − 1 = ${whole(n.reload)}`,
	'reload-exclusive': (n) => `reload = T = ${whole(n.ticks)} = ${whole(n.reload)}`,
	'active-ratio': (n) => activeText(n, `duty × T = ${percent(n.duty)} × ${whole(n.ticks)}`),
	'active-on': (n) => activeText(n, `on-time × f_k ÷ P = ${seconds(n.time)} × ${hertz(n.tickRate)}`),
	'active-off': (n) => activeText(n, `T − off-time × f_k ÷ P = ${whole(n.ticks)} − ${seconds(n.time)} × ${hertz(n.tickRate)}`),
	'active-ticks': (n) => activeText(n, 'as wished'),
	tick: (n) => `ticks = t × f_k ÷ P = ${seconds(n.wish)} × ${hertz(n.kernel)} ÷ ${decimal(n.prescale)} → ${decimal(n.ticks)}`,
	up: (n) => `reload = ${decimal(n.value)}: ${decimal(n.ticks)} ticks from event to event`,
	down: (n) => `reload = ${decimal(n.value)}: ${decimal(n.ticks)} ticks from event to event`,
	updown: (n) => `reload = ticks ÷ 2 = ${decimal(n.value)}`,
	'updown-twice': (n) => `reload = ticks = ${decimal(n.value)}: one event at each end of the period`,
	free: (n) => `it wraps every ${decimal(n.full)} ticks`,
	preload: (n) =>
		`preload = 2^w − ticks${n.late.sign > 0 ? ` + ${decimal(n.late)} late` : ''} = ${decimal(n.full)} − ${decimal(n.ticks)}${n.late.sign > 0 ? ` + ${decimal(n.late)}` : ''} = ${decimal(n.value)}`,
	tap: (n) => `bit ${decimal(n.value)} rises every 2^${decimal(n.value)} × 2 = ${decimal(n.ticks)} ticks`,
	advance: (n) => `compare is moved on by ${decimal(n.value)} at each match: no drift, however late the service`,
	clear: (n) => `compare = ticks − 1${n.late.sign > 0 ? ` − ${decimal(n.late)} late` : ''} = ${decimal(n.value)}`,
	capture: (n) =>
		`f = k × f_t ÷ dN, k = ${decimal(n.every)}, f_t = ${hertz(n.tickRate)}; one count at ${hertz(n.highest)} is f ÷ (k × f_t) = ${percent(n.step, 4)}`,
	toggle: (n) => `f = f_k ÷ (P × T × 2) = ${hertz(n.kernel)} ÷ (${decimal(n.prescale)} × ${decimal(n.ticks)} × 2) = ${hertz(n.hz)}`,
	pair: (n) =>
		`dead time = ${seconds(n.dead)} × ${hertz(n.clock)} → ${decimal(n.cycles)} cycles by code ${decimal(n.code)}: the shortest that can be set and is no shorter`,
	encoder: (n) =>
		`counts = cycles × edges × turns = ${decimal(n.cycles)} × ${decimal(n.times)} × ${decimal(n.turns)} = ${decimal(n.counts)}`,
	oneshot: (n) =>
		`compare = delay × f_t = ${seconds(n.delay)} × ${hertz(n.kernel)} ÷ ${decimal(n.prescale)} → ${decimal(n.compare)}; reload = compare + width in ticks − 1 = ${decimal(n.reload)}`,
	elapsed: (n) =>
		`elapsed = (second − first) mod 2^w = (${decimal(n.to)} − ${decimal(n.from)}) mod ${decimal(n.full)} = ${decimal(n.ticks)} ticks, if it wrapped once at the most`,
	gated: (n) => `f = N ÷ gate; one count at ${hertz(n.lowest)} is 1 ÷ (f × gate) = ${percent(n.step, 4)}`,
	crossover: (n) =>
		`both are equally fine where f² = k × f_t ÷ gate = ${decimal(n.every)} × ${hertz(n.tickRate)} ÷ ${seconds(n.gate)}: f ≈ ${hertz(Rational.int(Math.round(Math.sqrt(n.square.toNumber()))), 5)}`,
	width: (n) =>
		`ticks = width × f_t: from ${seconds(n.shortest)} × ${hertz(n.tickRate)} → ${decimal(n.from)} to ${seconds(n.longest)} × ${hertz(n.tickRate)} → ${decimal(n.to)}`,
	map: (n) =>
		`value = low + (high − low) × count ÷ ${decimal(n.whole)} = ${decimal(n.low)} + ${decimal(n.high.sub(n.low))} × count ÷ ${decimal(n.whole)}`,
	split: (n) =>
		`count = period ÷ tick = ${seconds(n.frame)} ÷ ${seconds(n.tick)} → ${decimal(n.count)}${n.count.equals(n.product) ? '' : `, as factors ${decimal(n.product)}`}`,
	follow: (n) =>
		`lag = C × P ÷ f_k + latency = ${decimal(n.compare)} × ${decimal(n.prescale)} ÷ ${hertz(n.kernel)} + ${decimal(n.latency)} cycles → ${seconds(n.lag)}; × 360 ÷ ${seconds(n.period)} = ${decimal(n.degrees)} deg`,
	'follow-event': (n) =>
		`lag = latency = ${decimal(n.latency)} cycles = ${seconds(n.lag)}, ${decimal(n.degrees, 5)} deg of ${seconds(n.period)}`,
	cascade: (n) => `period = leader × P × T = ${seconds(n.leader)} × ${decimal(n.prescale)} × ${decimal(n.ticks)} = ${seconds(n.period)}`,
	gate: (n) => `periods = open ÷ period = ${seconds(n.on)} ÷ ${seconds(n.own)} = ${decimal(n.count)}`,
	rows: (n) =>
		`rows = carrier ÷ base = ${hertz(n.carrier)} ÷ ${hertz(n.base)} → ${decimal(n.count)}${n.rows.equals(n.count) ? '' : ` (of ${decimal(n.rows)})`}`,
	pattern: (n) => `length = words ÷ rate = ${decimal(n.count)} ÷ ${hertz(n.rate)} = ${seconds(n.length)}`
};
