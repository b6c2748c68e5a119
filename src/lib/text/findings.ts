import type { Finding } from '../../core/check/index.js';
import type { LinkName, ReachBy } from '../../core/aims/index.js';
import type { Plan } from '../../core/plan/index.js';
import type { Rational } from '../../core/exact/index.js';
import { decimal, hertz, percent, ppm, seconds, signed } from './numbers.js';
import { clockTreeText } from './documents.js';
import { kindWords } from './kinds.js';
import { problemText } from './problems.js';
import { listed } from './words.js';

const FIELDS: Record<string, string> = {
	rate: 'rate',
	tolerance: 'tolerance',
	duty: 'duty',
	bits: 'resolution',
	begin: 'duty at first',
	sweep: 'end of the sweep',
	over: 'time of the sweep',
	prescale: 'held prescale',
	reload: 'held reload',
	compare: 'held compare',
	setting: 'setting',
	every: 'interval',
	service: 'service time',
	lowest: 'lowest rate',
	highest: 'highest rate',
	step: 'wished step',
	cycles: 'cycles a turn',
	range: 'range',
	speed: 'greatest speed',
	delay: 'delay',
	dead: 'dead time',
	repeat: 'repeat count',
	width: 'width',
	from: 'first reading',
	to: 'second reading',
	gate: 'gate time',
	shortest: 'shortest width',
	longest: 'longest width',
	each: 'time of one unit',
	start: 'count at first',
	low: 'value of the first count',
	high: 'value of the last count',
	bounce: 'time of bouncing',
	frame: 'period of the pulses',
	frameTolerance: 'tolerance of that period',
	factor: 'largest factor',
	lag: 'lag',
	lagTolerance: 'tolerance of the lag',
	carrier: 'carrier',
	base: 'base rate',
	baseTolerance: 'tolerance of the base rate',
	amplitude: 'amplitude',
	offset: 'offset',
	resistance: 'resistor of the filter',
	capacitance: 'capacitor of the filter',
	inductance: 'coil of the filter',
	least: 'least lag',
	most: 'greatest lag'
};

/** "outputs.0.width" as "width of output 1". */
function fieldName(field: string): string {
	if (field.startsWith('lock-')) return `held ${LINK[field.slice(5) as LinkName] ?? field.slice(5)}`;
	const part = /^(outputs|lines)\.(\d+)\.(\w+)$/.exec(field);
	if (part) return `${part[3]} of ${part[1] === 'outputs' ? 'output' : 'line'} ${Number(part[2]) + 1}`;
	return FIELDS[field] ?? field;
}

const CHANGE_FIELDS: Record<string, string> = {
	at: 'time',
	rate: 'rate',
	prescale: 'prescale',
	lag: 'delay',
	apart: 'time between two writes',
	every: 'count of updates'
};

const LINK: Record<LinkName, string> = {
	prescale: 'prescale',
	reload: 'reload',
	compare: 'compare',
	dead: 'dead time',
	repeat: 'repeat count',
	preload: 'preload',
	bit: 'bit',
	advance: 'advance',
	every: 'count of edges',
	times: 'count of edges',
	lead: 'leader’s compare',
	second: 'second compare',
	factors: 'factors'
};

export function linkName(link: LinkName): string {
	return LINK[link];
}

function reachText(reach: readonly ReachBy[]): string {
	const ways = reach.map((way) => {
		switch (way.by) {
			case 'timer':
				return way.timer;
			case 'cascade':
				return `a cascade with ${way.timer}`;
			case 'software':
				return `a count to ${way.count} in software`;
		}
	});
	return ways.length > 0 ? ` What would reach it: ${ways.join('; or ')}.` : ' A slower clock would reach it.';
}

/** Where a finding lies, in the plan's own names. */
export function findingPlace(finding: Finding, plan: Plan): string {
	if (finding.aim !== undefined) return plan.aims.find((a) => a.id === finding.aim)?.name || 'unnamed aim';
	if (finding.change) return `writes to ${plan.part.timers.find(({ id }) => id === finding.change?.timer)?.name ?? finding.change.timer}`;
	if (finding.node === undefined) return 'clock';
	const own = Object.hasOwn(plan.labels, finding.node) ? plan.labels[finding.node].name : '';
	return own || (plan.part.clock.find((n) => n.id === finding.node)?.name ?? 'clock');
}

/** A finding in one or two plain sentences. */
export function findingText(finding: Finding): string {
	switch (finding.code) {
		case 'field':
			return `The ${fieldName(finding.field)}: ${problemText(finding.problem)}`;
		case 'change-field':
			return `The ${CHANGE_FIELDS[finding.field] ?? finding.field.replace(/^duty .*/, 'duty')} of a row: ${problemText(finding.problem)}`;
		case 'change-idle':
			return 'No aim counts periods on this timer: there is nothing to be changed while it runs.';
		case 'change-fed':
			return 'The updates of this timer feed a shape already: a list of writes besides would be overwritten.';
		case 'change-order':
			return 'A row comes before the one above it; rows go forward in time.';
		case 'change-empty':
			return 'The list has no rows yet.';
		case 'change-reload':
			return `No reload up to ${finding.limit} gives this rate on the prescale in force.`;
		case 'change-prescale':
			return `The prescaler does not offer ${finding.value}.`;
		case 'change-duty-moves':
			return `The reload changes and the compare of ${finding.channel} stays: its duty goes from ${percent(finding.from)} to ${percent(finding.to)}.`;
		case 'glitch':
			return `${finding.count === 1 ? 'A period is' : `${finding.count} periods are`} neither as before nor as after the write: the first, at ${seconds(finding.at, 6)}, is ${seconds(finding.period, 5)} long and on for ${seconds(finding.on, 5)}, where ${seconds(finding.whole, 5)} and ${seconds(finding.right, 5)} are meant.`;
		case 'clock-broken':
			return `The clock tree has no rates: ${clockTreeText(finding.why, finding.details)}.`;
		case 'clock-setting':
			return `The part does not offer the setting “${finding.value}” here; the setting at reset stands instead.`;
		case 'clock-limit':
			return `${hertz(finding.hz)} is ${finding.limit === 'max' ? 'above' : 'below'} the limit of ${hertz(finding.bound)}${finding.why ? `: ${finding.why}` : ''}.`;
		case 'derivation-failed':
			return `This aim could not be worked out, which is a fault of Nolvet and not of yours: ${finding.reason}. The other aims stand as they are.`;
		case 'kernel-stopped':
			return `No clock reaches ${finding.timer}: something before it is stopped.`;
		case 'timer-missing':
			return `The part has no timer “${finding.timer}”; choose one that it has.`;
		case 'channel-missing':
			return `${finding.timer} has no channel “${finding.channel}”; choose one that it has.`;
		case 'channel-no-pulse':
			return finding.open
				? `${finding.timer}, ${finding.channel} cannot drive pulses of a settable width; choose a channel that can.`
				: `${finding.timer}, ${finding.channel} has no such output in this way of counting; choose others, or leave them to the part.`;
		case 'channel-shared':
			return `${finding.timer}, ${finding.channel} serves “${finding.other}” already; one channel serves one aim.`;
		case 'reload-shared':
			return `“${finding.other}” decides prescale and reload of this timer, which gives ${hertz(finding.hz)} instead of ${hertz(finding.wish)}.`;
		case 'lock-refused':
			return `The held ${LINK[finding.link]} ${finding.value} cannot be set${finding.value > finding.limit ? `; ${finding.limit} is the largest` : ': this prescaler does not offer it'}.${finding.kept === undefined ? '' : ` The register would keep its low bits: ${finding.kept}.`}`;
		case 'rate-too-slow':
			return `${hertz(finding.wish)} is slower than this timer reaches: ${hertz(finding.lowest)} with the largest prescale and reload.${reachText(finding.reach)}`;
		case 'rate-too-fast':
			return `${hertz(finding.wish)} is faster than this timer reaches: ${hertz(finding.highest)} with the smallest prescale and reload.`;
		case 'rate-outside':
			return `The nearest rate is ${hertz(finding.hz)}, ${signed(ppm(finding.ppm), finding.ppm)} off; ± ${ppm(finding.tolerance)} is allowed.`;
		case 'bits-short':
			return `One period has ${finding.ticks} ticks: ${finding.bits.toFixed(2)} bits of duty where ${finding.wanted} are wanted.`;
		case 'duty-over-period':
			return `${decimal(finding.wanted)} active ticks are wished for, and a period has ${finding.ticks}: the pin stays active all the time.`;
		case 'duty-below-zero':
			return `The off-time is longer than the period: the pin is never active.`;
		case 'duty-coarse':
			return `The duty comes out ${signed(percent(finding.error), finding.error)} off; half of the wished step is ${percent(finding.step)}.`;
		case 'mode-missing':
			return `${finding.timer} cannot count this way (${finding.mode}); choose a way or a timer that it has.`;
		case 'place-missing':
			return `${finding.timer} does not offer “${finding.of ? `${finding.of} ` : ''}${finding.what}” for this; choose one that it does.`;
		case 'cannot-job':
			return `${finding.timer} ${kindWords(finding.kind).cannot}; choose a timer that can.`;
		case 'dead-too-long':
			return `No dead time of ${seconds(finding.wish)} can be set; ${seconds(finding.longest)} is the longest.`;
		case 'swallowed':
			return `The ${finding.side} pulse of ${seconds(finding.pulse)} is no longer than the dead time of ${seconds(finding.dead)}: it never comes.`;
		case 'repeat-refused':
			return `A repeat count of ${finding.value} cannot be set; ${finding.limit} is the largest.`;
		case 'duty-outside':
			return `The wished duty comes to ${percent(finding.wanted)}; 0 to 100 % can be had.`;
		case 'timer-taken':
			return `${finding.timer} serves “${finding.other}” already, in a way that leaves nothing to share; choose another timer.`;
		case 'time-too-long':
			return `${seconds(finding.wish)} is longer than this timer reaches: ${seconds(finding.longest)}.${reachText(finding.reach)}`;
		case 'time-too-short':
			return `${seconds(finding.wish)} is shorter than this timer can make: ${seconds(finding.shortest)}. A faster clock would reach it.`;
		case 'time-outside':
			return `The nearest time is ${seconds(finding.seconds)}, ${signed(ppm(finding.ppm), finding.ppm)} off; ± ${ppm(finding.tolerance)} is allowed.`;
		case 'service-over-period':
			return `Serving it takes ${percent(finding.load)} of the period: ticks are lost.`;
		case 'service-heavy':
			return `Serving it takes ${percent(finding.load)} of the processor.`;
		case 'range-reversed':
			return 'The lowest rate lies above the highest.';
		case 'capture-wraps':
			return `Below ${hertz(finding.lowest)} the counter wraps between two captures and reads wrong without a sign; ${hertz(finding.wish)} is wished for. Count overflows, or take a larger prescale.`;
		case 'capture-coarse':
			return `At ${hertz(finding.hz)} one count is ${percent(finding.step)} of the reading; ${percent(finding.wanted)} is wished for. More edges a capture, or a faster tick, would be finer.`;
		case 'capture-service':
			return `The processor serves captures up to ${hertz(finding.most)}; ${hertz(finding.wish)} is wished for.`;
		case 'counts-do-not-fit':
			return `${finding.counts} counts do not fit; ${finding.limit} is the most.`;
		case 'counts-not-whole':
			return `The range is ${decimal(finding.counts)} counts: no whole number, so the ends drift.`;
		case 'filter-too-slow':
			return `At the greatest speed edges come every ${seconds(finding.spacing)}, and the filter wants ${seconds(finding.window)}: counts are lost.`;
		case 'software-clamp':
			return 'The counter itself wraps; clamping is left to software, which must look before the other end is reached.';
		case 'full-duty-unreachable':
			return `A compare of this width reaches ${finding.most} of ${finding.ticks} ticks: 100 % cannot be set.`;
		case 'locks-conflict': {
			const amount = (value: Rational) =>
				finding.unit === 'Hz' ? hertz(value) : finding.unit === 's' ? seconds(value) : `${decimal(value)} counts`;
			const held = `the held ${listed(finding.links.map((link) => LINK[link]))}`;
			const go = `Let ${finding.links.length > 1 ? 'one of them' : 'it'} go.`;
			if (!finding.got) return `With ${held}, ${amount(finding.wish)} cannot be had. ${go}`;
			return `T${held.slice(1)} ${finding.links.length > 1 ? 'give' : 'gives'} ${amount(finding.got)}; ${amount(finding.wish)} is wished for. ${go}`;
		}
		case 'lock-overruled':
			return `“${finding.other}” decides for this timer: the held ${listed(finding.links.map((link) => LINK[link]))} of this aim ${finding.links.length > 1 ? 'have' : 'has'} no effect.`;
		case 'mode-clash':
			return `“${finding.other}” has ${finding.timer} count in another way; aims that share a timer count alike.`;
		case 'no-duty-unreachable':
			return `The least that a compare makes active is ${finding.least} of ${finding.ticks} ticks: 0 % cannot be set.`;
		case 'held-compare-off':
			return `The held compare ${finding.held} gives ${percent(finding.duty)}; ${percent(finding.wished)} is wished for, which is ${finding.compare} on this reload.`;
		case 'sweep-empty':
			return 'The sweep ends where it begins.';
		case 'cannot-buffer':
			return finding.writes === 'buffered'
				? `${finding.timer} has no buffer for its compare: a write in the middle of a period cuts or doubles a pulse.`
				: `${finding.timer} always buffers its compare; it cannot be written at once.`;
		case 'unbuffered':
			return 'The compare is written unbuffered: a write in the middle of a period cuts or doubles a pulse.';
		case 'table-late':
			return 'Buffered, and not filled before the start: row 0 lasts two periods, and every row acts one period late.';
		case 'write-late':
			return `The write comes ${seconds(finding.lag)} after the update, a period is ${seconds(finding.period)}: rows are left out.`;
		case 'base-outside':
			return `The rows repeat at ${hertz(finding.hz)}, ${signed(ppm(finding.ppm), finding.ppm)} off ${hertz(finding.wish)}; ± ${ppm(finding.tolerance)} is allowed. The carrier is no whole multiple of the base rate.`;
		case 'rows-too-few':
			return `The carrier gives ${decimal(finding.rows)} rows a period of the base rate; at least 2 are wanted.`;
		case 'rows-too-many':
			return `This comes to ${decimal(finding.rows)} rows; ${finding.limit} is the most. Lower the carrier, or raise the base rate.`;
		case 'row-unread':
			return `Line ${finding.row} of the own shape cannot be read: a number of -1 to 1 or a percent is wanted, and after a comma a period if it has its own.`;
		case 'row-outside':
			return `Row ${finding.row} asks for ${percent(finding.duty)}: amplitude and offset together go beyond 0 to 100 %.`;
		case 'no-interrupt':
			return `The part lists no interrupt of ${finding.timer} for “${finding.event}”; notice it by polling, or choose a timer that has one.`;
		case 'software-late':
			return `Software ${finding.mode === 'clear' ? 'clears' : 'reloads'} the counter about ${finding.ticks} ticks late: the compensation holds only for that very service time, and every variation of it drifts.${finding.better ? ' This timer can do it without software.' : ''}`;
		case 'gate-coarse':
			return `Counted for this gate, one count at ${hertz(finding.hz)} is ${percent(finding.step)} of the reading; ${percent(finding.wanted)} wants a gate of ${seconds(finding.gate)}.`;
		case 'gate-full':
			return `Edges can be counted up to ${hertz(finding.most)}; ${hertz(finding.wish)} is wished for.`;
		case 'width-wraps':
			return `Pulses longer than ${seconds(finding.longest)} wrap the counter and read short without a sign; ${seconds(finding.wish)} is wished for. Count overflows, or take a larger prescale.`;
		case 'width-coarse':
			return `One count is ${percent(finding.step)} of the shortest pulse; ${percent(finding.wanted)} is wished for. A faster tick with overflows counted would be finer.`;
		case 'width-service':
			return `Software turns the edge round in ${seconds(finding.shortest)}; a pulse of ${seconds(finding.wish)} is over before.`;
		case 'start-outside':
			return `The count cannot begin at ${finding.start}; the last is ${finding.last}.`;
		case 'units-differ':
			return 'The ends of the mapping are of different kinds; give both the same unit.';
		case 'bounce-longer':
			return `The trigger bounces for ${seconds(finding.bounce)}, and the pulse is over after ${seconds(finding.pulse)}: a late bounce fires it again.`;
		case 'bounce-restarts':
			return `Every bounce within ${seconds(finding.bounce)} restarts the pulse: it ends that much later. Ignore further edges instead.`;
		case 'frame-outside':
			return `The factors come to ${seconds(finding.seconds)}, ${signed(ppm(finding.ppm), finding.ppm)} off ${seconds(finding.wish)}; ± ${ppm(finding.tolerance)} is allowed.`;
		case 'factors-too-many':
			return `${finding.count} ticks would want more than four factors of up to ${finding.factor}. A slower tick, or larger counters, would do.`;
		case 'width-over-frame':
			return `“${finding.output}” is ${seconds(finding.width)} wide; the period is ${seconds(finding.frame)}.`;
		case 'width-below-tick':
			return `“${finding.output}” of ${seconds(finding.width)} is less than half a tick of ${seconds(finding.tick)}: it never comes.`;
		case 'leader-missing':
			return 'The aim that it follows is gone; choose another.';
		case 'leader-ring':
			return 'It follows itself, by its own timer or by way of others; choose another leader.';
		case 'leader-unclear':
			return `“${finding.leader}” has no steady period to follow yet: see its own findings.`;
		case 'leader-full':
			return `Every compare of ${finding.timer} is in use: none is left to start this one so much after “${finding.leader}”.`;
		case 'no-route':
			return `“${finding.event}” of ${finding.from} ${finding.input === 'auto' ? 'reaches no input' : `does not reach “${finding.input}”`} of ${finding.to} on this part.${finding.nearest ? '' : ' No other timer can be reached by it either.'}`;
		case 'no-action':
			return `${finding.timer} has no input that could ${finding.action} it${finding.input === undefined ? '' : ` by ${finding.input}`}.`;
		case 'lag-outside':
			return `The lag comes out ${signed(seconds(finding.off), finding.off)} (${signed(decimal(finding.degrees, 4), finding.degrees)} deg) off; ± ${seconds(finding.allowed)} is allowed.`;
		case 'lag-beyond':
			return `A lag of ${seconds(finding.wish)} is a whole period of ${seconds(finding.period)} or more.`;
		case 'lag-below-latency':
			return `The trigger itself takes ${seconds(finding.latency)}: no lag of ${seconds(finding.wish)} can be had.`;
		case 'drifts':
			return `Started once, it runs ${signed(ppm(finding.ppm), finding.ppm)} off its leader: the phase drifts away. Let the leader reset it every period.`;
		case 'gate-short':
			return `The gate is open for ${seconds(finding.on)}, less than one period of ${seconds(finding.period)}.`;
		case 'part-as-percent':
			return `${finding.typed} is not ${finding.exact}: type the fraction, and nothing is lost.`;
		case 'not-paced':
			return `${finding.timer} cannot ask for a transfer at its update; choose a timer that can.`;
		case 'pattern-breaks':
			return `A word takes up to ${seconds(finding.most)}, the next is due after ${seconds(finding.period)}: the stream breaks.`;
		case 'lags-reversed':
			return 'The least lag is above the greatest.';
		case 'bit-twice':
			return `Bit ${finding.bit} is used by ${listed(finding.lines)}; each line has a bit of its own.`;
		case 'lines-uneven':
			return `“${finding.line}” has ${finding.words} levels where the longest line has ${finding.longest}: it holds its last one.`;
		case 'pattern-empty':
			return 'No line has a level yet: draw at least one.';
		case 'held-off-by-one':
			return `With ${listed(finding.links.map(({ link, value }) => `${LINK[link]} ${value}`))} instead of ${listed(finding.links.map(({ held }) => String(held)))} the wish would be met: one too ${finding.links[0].value < finding.links[0].held ? 'many' : 'few'}?`;
		case 'held-bytes-swapped':
			return `With its bytes the other way round, ${finding.value} instead of ${finding.held}, the wish would be met.`;
		case 'held-other-clock':
			return `The held values would meet the wish with a clock of ${hertz(finding.kernel)}: ${finding.clock === 'reset' ? 'the one at reset' : finding.clock === 'doubled' ? 'twice the one that reaches this timer' : 'half of the one that reaches this timer'}.`;
		case 'pin-missing':
			return `Pin “${finding.pin}” cannot lead out ${finding.what}; choose one that can.`;
		case 'pin-shared':
			return `Pin ${finding.pin} for ${finding.what} is taken by “${finding.other}”.`;
		case 'pin-not-led':
			return `Pin ${finding.pin} is not led out on this package.`;
		case 'pin-none':
			return `No pin leads ${finding.what} of this timer out.`;
	}
}
