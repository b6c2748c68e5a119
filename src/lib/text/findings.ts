import type { Finding } from '../../core/check/index.js';
import type { JobKind, Plan } from '../../core/plan/index.js';
import { decimal, hertz, percent, ppm, seconds, signed } from './numbers.js';
import { problemText } from './problems.js';

const FIELDS: Record<string, string> = {
	rate: 'rate',
	tolerance: 'tolerance',
	duty: 'duty',
	bits: 'resolution',
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
	width: 'width'
};

const CANNOT: Record<JobKind, string> = {
	tick: 'makes no tick',
	capture: 'captures no edges',
	encoder: 'cannot count a quadrature encoder this way',
	oneshot: 'makes no one-shots counting up',
	toggle: 'has no output that toggles once a period',
	pair: 'has no complementary outputs'
};

/** Where a finding lies, in the plan's own names. */
export function findingPlace(finding: Finding, plan: Plan): string {
	if (finding.aim !== undefined) return plan.aims.find((a) => a.id === finding.aim)?.name || 'unnamed aim';
	if (finding.node === undefined) return 'clock';
	const own = Object.hasOwn(plan.labels, finding.node) ? plan.labels[finding.node].name : '';
	return own || (plan.part.clock.find((n) => n.id === finding.node)?.name ?? 'clock');
}

/** A finding in one or two plain sentences. */
export function findingText(finding: Finding): string {
	switch (finding.code) {
		case 'field':
			return `The ${FIELDS[finding.field] ?? finding.field}: ${problemText(finding.problem)}`;
		case 'clock-broken':
			return `The clock tree has no rates: ${finding.detail}.`;
		case 'clock-setting':
			return `The part does not offer the setting “${finding.value}” here; the setting at reset stands instead.`;
		case 'clock-limit':
			return `${hertz(finding.hz)} is ${finding.limit === 'max' ? 'above' : 'below'} the limit of ${hertz(finding.bound)}${finding.why ? `: ${finding.why}` : ''}.`;
		case 'kernel-stopped':
			return `No clock reaches ${finding.timer}: something before it is stopped.`;
		case 'timer-missing':
			return `The part has no timer “${finding.timer}”; choose one that it has.`;
		case 'channel-missing':
			return `${finding.timer} has no channel “${finding.channel}”; choose one that it has.`;
		case 'channel-no-pulse':
			return `${finding.timer}, ${finding.channel} cannot drive pulses of a settable width; choose a channel that can.`;
		case 'channel-shared':
			return `${finding.timer}, ${finding.channel} drives “${finding.other}” already; one channel drives one pin.`;
		case 'reload-shared':
			return `“${finding.other}” decides prescale and reload of this timer, which gives ${hertz(finding.hz)} instead of ${hertz(finding.wish)}.`;
		case 'lock-refused':
			return `The held ${finding.link} ${finding.value} cannot be set; ${finding.limit} is the largest.`;
		case 'rate-too-slow':
			return `${hertz(finding.wish)} is slower than this timer reaches: ${hertz(finding.lowest)} with the largest prescale and reload.`;
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
			return `${finding.timer} does not offer “${finding.what}” for this; choose one that it does.`;
		case 'cannot-job':
			return `${finding.timer} ${CANNOT[finding.job]}; choose a timer that can.`;
		case 'dead-too-long':
			return `No dead time of ${seconds(finding.wish)} can be set; ${seconds(finding.longest)} is the longest.`;
		case 'swallowed':
			return `The ${finding.side} pulse of ${seconds(finding.pulse)} is no longer than the dead time of ${seconds(finding.dead)}: it never comes.`;
		case 'repeat-refused':
			return `A repeat count of ${finding.value} cannot be set; ${finding.limit} is the largest.`;
		case 'duty-outside':
			return `The wished duty comes to ${percent(finding.wanted)}; 0 to 100 % can be had.`;
		case 'timer-taken':
			return `${finding.timer} serves “${finding.other}” already; this job needs a timer for itself.`;
		case 'time-too-long':
			return `${seconds(finding.wish)} is longer than this timer reaches: ${seconds(finding.longest)}. A larger prescale, a wider timer, or a count in software would reach it.`;
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
	}
}
