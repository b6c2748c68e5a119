import type { Finding } from '../../core/check/index.js';
import type { Plan } from '../../core/plan/index.js';
import { decimal, hertz, percent, ppm, signed } from './numbers.js';
import { problemText } from './problems.js';

const FIELDS: Record<string, string> = {
	rate: 'rate',
	tolerance: 'tolerance',
	duty: 'duty',
	bits: 'resolution',
	prescale: 'held prescale',
	reload: 'held reload',
	compare: 'held compare',
	setting: 'setting'
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
		case 'full-duty-unreachable':
			return `A compare of this width reaches ${finding.most} of ${finding.ticks} ticks: 100 % cannot be set.`;
	}
}
