import type { TableCell } from '../../core/aims/index.js';
import { Rational } from '../../core/exact/index.js';
import { decimal, hertz, percent, seconds } from './numbers.js';

const FIGURES: Record<string, string> = {
	period: 'Interval',
	rate: 'Rate',
	error: 'Error',
	drift: 'Drift',
	tick: 'One count',
	service: 'Service',
	load: 'Processor',
	lowest: 'Lowest rate',
	highest: 'Highest for the step',
	'step-low': 'Step at the lowest',
	'step-high': 'Step at the highest',
	'reading-low': 'Slowest reading',
	served: 'Served up to',
	'per-turn': 'Counts a turn',
	counts: 'Counts in all',
	degrees: 'One count',
	'edge-spacing': 'Edges come every',
	'filter-window': 'Filter wants',
	filter: 'Filter',
	fastest: 'Fastest',
	delay: 'Delay',
	half: 'Half a period',
	duty: 'Duty',
	dead: 'Dead time',
	main: 'Main high',
	complementary: 'Complementary high',
	'dead-share': 'Taken by dead time',
	'least-duty': 'Least duty that comes',
	updates: 'Updates',
	latency: 'Latency',
	width: 'Width',
	'width-error': 'Width error',
	prescale: 'Prescale',
	every: 'Every',
	'down-at': 'Left again below',
	'step-gated': 'Step counted, at the highest',
	'step-short': 'Step at the shortest',
	'highest-counted': 'Highest counted',
	gate: 'Gate',
	'accept-from': 'Accepted from',
	'accept-to': 'Accepted to',
	'shortest-served': 'Shortest served',
	'scale-step': 'One count',
	'scale-from': 'From',
	'scale-to': 'To',
	start: 'Begins at',
	'map-step': 'One count maps to',
	count: 'Count',
	mapped: 'Stands for',
	'most-duty': 'Greatest duty that comes',
	'delay-error': 'Delay error',
	deaf: 'Deaf to bounces for',
	'bounce-margin': 'Longer than the bounce by',
	elapsed: 'Elapsed',
	'elapsed-most': 'Elapsed reads up to',
	frame: 'Pulses every',
	'frame-error': 'Their error',
	output: 'Output',
	'wished-width': 'Wished',
	ticks: 'Ticks',
	'off-by': 'Off by',
	register: 'Register',
	lag: 'Lag',
	'lag-degrees': 'Lag in degrees',
	'lag-off': 'Lag off by',
	'cascade-width': 'Together',
	'gate-on': 'Gate open for',
	'per-gate': 'Periods a gate',
	carrier: 'Carrier',
	base: 'Base rate',
	'base-error': 'Base error',
	rows: 'Rows',
	rounding: 'Rounding',
	steps: 'Different compares',
	'write-lag': 'Written after',
	row: 'Row',
	'wished-duty': 'Wished duty',
	reload: 'Reload',
	compare: 'Compare',
	'second-compare': 'Second compare',
	'acts-on': 'Acts on period',
	pace: 'Pace',
	'word-time': 'A word lasts',
	words: 'Words',
	length: 'Whole pattern',
	repeats: 'Repeats',
	'lag-least': 'Lag at the least',
	'lag-most': 'Lag at the most',
	jitter: 'Jitter',
	'break-limit': 'Breaks at',
	margin: 'Margin',
	finest: 'Finest step',
	longest: 'Longest',
	'whole-period': 'Period',
	'on-time': 'On-time',
	'duty-error': 'Duty error',
	'duty-step': 'Duty step',
	'ends-give': '0 % and 100 % give',
	begin: 'At first',
	sweep: 'Sweep to',
	'compare-begin': 'Compare at first',
	'compare-sweep': 'Compare at the end of the sweep'
};

/** A cell of a table that holds no number. */
export function cellText(cell: Exclude<TableCell, Rational>): string {
	if (cell === null) return 'any';
	return typeof cell === 'string' ? cell : `${cell.period}, under way`;
}

export function figureName(name: string): string {
	return FIGURES[name] ?? name;
}

/** A formula with its numbers in it. */
export function formulaText({ code, numbers: n }: { code: string; numbers: Record<string, Rational> }): string {
	switch (code) {
		case 'period':
			return about(
				`T = f_k ÷ (P × f) = ${hertz(n.kernel)} ÷ (${whole(n.prescale)} × ${hertz(n.wish)}) = ${decimal(n.exact, 8)}${n.exact.equals(n.ticks) ? '' : ` → ${whole(n.ticks)}`} ticks`
			);
		case 'reload-updown':
			return `reload = T ÷ 2 = ${whole(n.ticks)} ÷ 2 = ${whole(n.reload)}`;
		case 'reload-inclusive':
			return `reload = T − 1 = ${whole(n.ticks)} − 1 = ${whole(n.reload)}`;
		case 'reload-exclusive':
			return `reload = T = ${whole(n.ticks)} = ${whole(n.reload)}`;
		case 'active-ratio':
			return activeText(n, `duty × T = ${percent(n.duty)} × ${whole(n.ticks)}`);
		case 'active-on':
			return activeText(n, `on-time × f_k ÷ P = ${seconds(n.time)} × ${hertz(n.tickRate)}`);
		case 'active-off':
			return activeText(n, `T − off-time × f_k ÷ P = ${whole(n.ticks)} − ${seconds(n.time)} × ${hertz(n.tickRate)}`);
		case 'active-ticks':
			return activeText(n, 'as wished');
		case 'tick':
			return `ticks = t × f_k ÷ P = ${seconds(n.wish)} × ${hertz(n.kernel)} ÷ ${decimal(n.prescale)} → ${decimal(n.ticks)}`;
		case 'up':
		case 'down':
			return `reload = ${decimal(n.value)}: ${decimal(n.ticks)} ticks from event to event`;
		case 'updown':
			return `reload = ticks ÷ 2 = ${decimal(n.value)}`;
		case 'updown-twice':
			return `reload = ticks = ${decimal(n.value)}: one event at each end of the period`;
		case 'free':
			return `it wraps every ${decimal(n.full)} ticks`;
		case 'preload':
			return `preload = 2^w − ticks${n.late.sign > 0 ? ` + ${decimal(n.late)} late` : ''} = ${decimal(n.full)} − ${decimal(n.ticks)}${n.late.sign > 0 ? ` + ${decimal(n.late)}` : ''} = ${decimal(n.value)}`;
		case 'tap':
			return `bit ${decimal(n.value)} rises every 2^${decimal(n.value)} × 2 = ${decimal(n.ticks)} ticks`;
		case 'advance':
			return `compare is moved on by ${decimal(n.value)} at each match: no drift, however late the service`;
		case 'clear':
			return `compare = ticks − 1${n.late.sign > 0 ? ` − ${decimal(n.late)} late` : ''} = ${decimal(n.value)}`;
		case 'capture':
			return `f = k × f_t ÷ dN, k = ${decimal(n.every)}, f_t = ${hertz(n.tickRate)}; one count at ${hertz(n.highest)} is f ÷ (k × f_t) = ${percent(n.step, 4)}`;
		case 'toggle':
			return `f = f_k ÷ (P × T × 2) = ${hertz(n.kernel)} ÷ (${decimal(n.prescale)} × ${decimal(n.ticks)} × 2) = ${hertz(n.hz)}`;
		case 'pair':
			return `dead time = ${seconds(n.dead)} × ${hertz(n.clock)} → ${decimal(n.cycles)} cycles by code ${decimal(n.code)}: the shortest that can be set and is no shorter`;
		case 'encoder':
			return `counts = cycles × edges × turns = ${decimal(n.cycles)} × ${decimal(n.times)} × ${decimal(n.turns)} = ${decimal(n.counts)}`;
		case 'oneshot':
			return `compare = delay × f_t = ${seconds(n.delay)} × ${hertz(n.kernel)} ÷ ${decimal(n.prescale)} → ${decimal(n.compare)}; reload = compare + width in ticks − 1 = ${decimal(n.reload)}`;
		case 'elapsed':
			return `elapsed = (second − first) mod 2^w = (${decimal(n.to)} − ${decimal(n.from)}) mod ${decimal(n.full)} = ${decimal(n.ticks)} ticks, if it wrapped once at the most`;
		case 'gated':
			return `f = N ÷ gate; one count at ${hertz(n.lowest)} is 1 ÷ (f × gate) = ${percent(n.step, 4)}`;
		case 'crossover':
			return `both are equally fine where f² = k × f_t ÷ gate = ${decimal(n.every)} × ${hertz(n.tickRate)} ÷ ${seconds(n.gate)}: f ≈ ${hertz(Rational.int(Math.round(Math.sqrt(n.square.toNumber()))), 5)}`;
		case 'width':
			return `ticks = width × f_t: from ${seconds(n.shortest)} × ${hertz(n.tickRate)} → ${decimal(n.from)} to ${seconds(n.longest)} × ${hertz(n.tickRate)} → ${decimal(n.to)}`;
		case 'map':
			return `value = low + (high − low) × count ÷ ${decimal(n.whole)} = ${decimal(n.low)} + ${decimal(n.high.sub(n.low))} × count ÷ ${decimal(n.whole)}`;
		case 'split':
			return `count = period ÷ tick = ${seconds(n.frame)} ÷ ${seconds(n.tick)} → ${decimal(n.count)}${n.count.equals(n.product) ? '' : `, as factors ${decimal(n.product)}`}`;
		case 'follow':
			return `lag = C × P ÷ f_k + latency = ${decimal(n.compare)} × ${decimal(n.prescale)} ÷ ${hertz(n.kernel)} + ${decimal(n.latency)} cycles → ${seconds(n.lag)}; × 360 ÷ ${seconds(n.period)} = ${decimal(n.degrees)} deg`;
		case 'follow-event':
			return `lag = latency = ${decimal(n.latency)} cycles = ${seconds(n.lag)}, ${decimal(n.degrees, 5)} deg of ${seconds(n.period)}`;
		case 'cascade':
			return `period = leader × P × T = ${seconds(n.leader)} × ${decimal(n.prescale)} × ${decimal(n.ticks)} = ${seconds(n.period)}`;
		case 'gate':
			return `periods = open ÷ period = ${seconds(n.on)} ÷ ${seconds(n.own)} = ${decimal(n.count)}`;
		case 'rows':
			return `rows = carrier ÷ base = ${hertz(n.carrier)} ÷ ${hertz(n.base)} → ${decimal(n.count)}${n.rows.equals(n.count) ? '' : ` (of ${decimal(n.rows)})`}`;
		case 'pattern':
			return `length = words ÷ rate = ${decimal(n.count)} ÷ ${hertz(n.rate)} = ${seconds(n.length)}`;
		default:
			return code;
	}
}

/** A whole number with all of its digits. */
function whole(value: Rational): string {
	return value.num.toString();
}

function activeText(n: Record<string, Rational>, from: string): string {
	const rounded = n.wanted.equals(n.active) ? '' : ` → ${whole(n.active)}`;
	return about(`active ticks = ${from} = ${decimal(n.wanted, 8)}${rounded}; compare = ${whole(n.compare)}`);
}

/** An equation whose right side is rounded says so in its sign. */
function about(equation: string): string {
	return equation.replaceAll('= ≈', '≈ ');
}
