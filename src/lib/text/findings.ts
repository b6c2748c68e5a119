import type { ReachBy, Updates } from '../../core/aims/index.js';
import type { Finding } from '../../core/check/index.js';
import type { Rational } from '../../core/exact/index.js';
import type { Plan } from '../../core/plan/index.js';
import { clockTreeText } from './documents.js';
import { kindWords } from './kinds.js';
import { changeFieldName, fieldName, ledText, linkName } from './names.js';
import { decimal, hertz, percent, ppm, seconds, signed } from './numbers.js';
import { problemText } from './problems.js';
import { listed } from './words.js';

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
	return (TEXTS[finding.code] as (of: Finding) => string)(finding);
}

/** Why an aim cannot move to a timer: its own finding there, or who would suffer by it. Where that is only that the aim has come, it is said the other way round. */
export function harmText(finding: Finding, plan: Plan, moved: { id: string; name: string }): string {
	if (finding.aim === moved.id) return findingText(finding);
	const place = findingPlace(finding, plan);
	if ('other' in finding && finding.other === moved.name) return `It serves “${place}”, which would have to give way.`;
	return `“${place}” would suffer: ${findingText(finding)}`;
}

type Of<C extends Finding['code']> = Extract<Finding, { code: C }>;

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

/** Held links that leave the wish out of reach. */
function conflictText(f: Of<'locks-conflict'>): string {
	const amount = (value: Rational) => (f.unit === 'Hz' ? hertz(value) : f.unit === 's' ? seconds(value) : `${decimal(value)} counts`);
	const held = `the held ${listed(f.links.map((link) => linkName(link)))}`;
	const go = `Let ${f.links.length > 1 ? 'one of them' : 'it'} go.`;
	if (!f.got) return `With ${held}, ${amount(f.wish)} cannot be had. ${go}`;
	return `T${held.slice(1)} ${f.links.length > 1 ? 'give' : 'gives'} ${amount(f.got)}; ${amount(f.wish)} is wished for. ${go}`;
}

const ENDS: Record<Updates, string> = { bottom: 'at the bottom', top: 'at the top', both: 'at both ends' };

/** The sentences, by code. */
const TEXTS: { [C in Finding['code']]: (f: Of<C>) => string } = {
	field: (f) => `The ${fieldName(f.field)}: ${problemText(f.problem)}`,
	'change-field': (f) => `The ${changeFieldName(f.field)} of a row: ${problemText(f.problem)}`,
	'change-idle': () => 'No aim counts periods on this timer: there is nothing to be changed while it runs.',
	'change-fed': () => 'The period events of this timer feed a shape already: a list of writes besides would be overwritten.',
	'change-order': () => 'A row comes before the one above it; rows go forward in time.',
	'change-empty': () => 'The list has no rows yet.',
	'change-reload': (f) => `No reload up to ${f.limit} gives this rate on the prescale in force.`,
	'change-off': (f) =>
		`The nearest rate on the prescale in force is ${hertz(f.hz)}, ${signed(ppm(f.ppm), f.ppm)} off ${hertz(f.wish)}; ± ${ppm(f.tolerance)} is allowed.`,
	'change-prescale': (f) => `The prescaler does not offer ${f.value}.`,
	'change-duty-moves': (f) =>
		`The reload changes and the compare of ${f.channel} stays: its duty goes from ${percent(f.from)} to ${percent(f.to)}.`,
	glitch: (f) =>
		`${f.count === 1 ? 'A period is' : `${f.count} periods are`} neither as before nor as after the write: the first, at ${seconds(f.at, 6)}, is ${seconds(f.period, 5)} long and on for ${seconds(f.on, 5)}, where ${seconds(f.whole, 5)} and ${seconds(f.right, 5)} are meant.`,
	'clock-broken': (f) => `The clock tree has no rates: ${clockTreeText(f.why, f.details)}.`,
	'clock-setting': (f) => `The part does not offer the setting “${f.value}” here; the setting at reset stands instead.`,
	'clock-limit': (f) =>
		`${hertz(f.hz)} is ${f.limit === 'max' ? 'above' : 'below'} the limit of ${hertz(f.bound)}${f.why ? `: ${f.why}` : ''}.`,
	'derivation-failed': (f) =>
		`This aim could not be worked out, which is a fault of Nolvet and not of yours: ${f.reason}. The other aims stand as they are.`,
	'kernel-stopped': (f) => `No clock reaches ${f.timer}: something before it is stopped.`,
	'timer-missing': (f) => `The part has no timer “${f.timer}”; choose one that it has.`,
	'channel-missing': (f) => `${f.timer} has no channel “${f.channel}”; choose one that it has.`,
	'channel-no-pulse': (f) =>
		f.open
			? `${f.timer}, ${f.channel} cannot drive pulses of a settable width; choose a channel that can.`
			: `${f.timer}, ${f.channel} has no such output in this way of counting; choose others, or leave them to the part.`,
	'channel-shared': (f) => `${f.timer}, ${f.channel} serves “${f.other}” already; one channel serves one aim.`,
	'reload-shared': (f) => `“${f.other}” decides prescale and reload of this timer, which gives ${hertz(f.hz)} instead of ${hertz(f.wish)}.`,
	'lock-refused': (f) =>
		`The held ${linkName(f.link)} ${f.value} cannot be set${f.unmet ? `: the counter only goes to ${f.limit}, so it never meets it` : f.value > f.limit ? `; ${f.limit} is the largest` : ': this prescaler does not offer it'}.${f.kept === undefined ? '' : ` The register would keep its low bits: ${f.kept}.`}`,
	'rate-too-slow': (f) =>
		`${hertz(f.wish)} is slower than this timer reaches: ${hertz(f.lowest)} with the largest prescale and reload.${reachText(f.reach)}`,
	'rate-too-fast': (f) => `${hertz(f.wish)} is faster than this timer reaches: ${hertz(f.highest)} with the smallest prescale and reload.`,
	'rate-outside': (f) => `The nearest rate is ${hertz(f.hz)}, ${signed(ppm(f.ppm), f.ppm)} off; ± ${ppm(f.tolerance)} is allowed.`,
	'bits-short': (f) => `One period has ${f.ticks} ticks: ${f.bits.toFixed(2)} bits of duty where ${f.wanted} are wanted.`,
	'duty-over-period': (f) =>
		`${decimal(f.wanted)} active ticks are wished for, and a period has ${f.ticks}: the pin stays active all the time.`,
	'duty-below-zero': () => `The off-time is longer than the period: the pin is never active.`,
	'duty-coarse': (f) => `The duty comes out ${signed(percent(f.error), f.error)} off; half of the wished step is ${percent(f.step)}.`,
	'mode-missing': (f) => `${f.timer} cannot count this way (${f.mode}); choose a way or a timer that it has.`,
	'place-missing': (f) => `${f.timer} does not offer “${f.of ? `${f.of} ` : ''}${f.what}” for this; choose one that it does.`,
	'cannot-job': (f) => `${f.timer} ${kindWords(f.kind).cannot}; choose a timer that can.`,
	'dead-too-long': (f) => `No dead time of ${seconds(f.wish)} can be set; ${seconds(f.longest)} is the longest.`,
	swallowed: (f) => `The ${f.side} pulse of ${seconds(f.pulse)} is no longer than the dead time of ${seconds(f.dead)}: it never comes.`,
	'reload-blocks': () => 'A reload of 0 blocks the counter: nothing ever happens. 1 is the least.',
	'repeat-refused': (f) => `A repeat count of ${f.value} cannot be set; ${f.limit} is the largest.`,
	'duty-outside': (f) => `The wished duty comes to ${percent(f.wanted)}; 0 to 100 % can be had.`,
	'timer-taken': (f) => `${f.timer} serves “${f.other}” already, in a way that leaves nothing to share; choose another timer.`,
	'time-too-long': (f) => `${seconds(f.wish)} is longer than this timer reaches: ${seconds(f.longest)}.${reachText(f.reach)}`,
	'time-too-short': (f) => `${seconds(f.wish)} is shorter than this timer can make: ${seconds(f.shortest)}. A faster clock would reach it.`,
	'time-outside': (f) =>
		`The nearest time is ${seconds(f.seconds)}, ${ppm(f.ppm.abs())} too ${f.seconds.compare(f.wish) > 0 ? 'long' : 'short'}; ± ${ppm(f.tolerance)} is allowed.`,
	'elapsed-both-ways': () => 'An up-down counter passes every value twice: two readings of it tell no time.',
	'reading-never': (f) => `The counter never holds ${listed(f.values.map(String))}: it goes from ${f.first} to ${f.last}.`,
	'service-over-period': (f) => `Serving it takes ${percent(f.load)} of the period: ticks are lost.`,
	'service-heavy': (f) => `Serving it takes ${percent(f.load)} of the processor.`,
	'range-reversed': () => 'The lowest rate lies above the highest.',
	'capture-wraps': (f) =>
		`Below ${hertz(f.lowest)} the counter wraps between two captures and reads wrong without a sign; ${hertz(f.wish)} is wished for. Count overflows, or take a larger prescale.`,
	'capture-coarse': (f) =>
		`At ${hertz(f.hz)} one count is ${percent(f.step)} of the reading; ${percent(f.wanted)} is wished for. More edges a capture, or a faster tick, would be finer.`,
	'capture-service': (f) => `The processor serves captures up to ${hertz(f.most)}; ${hertz(f.wish)} is wished for.`,
	'counts-do-not-fit': (f) => `${f.counts} counts do not fit; ${f.limit} is the most.`,
	'counts-not-whole': (f) => `The range is ${decimal(f.counts)} counts: no whole number, so the ends drift.`,
	'filter-too-slow': (f) =>
		`At the greatest speed edges come every ${seconds(f.spacing)}, and the filter wants ${seconds(f.window)}: counts are lost.`,
	'software-clamp': () => 'The counter itself wraps; clamping is left to software, which must look before the other end is reached.',
	'full-duty-unreachable': (f) => `A compare of this width reaches ${f.most} of ${f.ticks} ticks: 100 % cannot be set.`,
	'locks-conflict': conflictText,
	'lock-overruled': (f) =>
		`“${f.other}” decides for this timer: the held ${listed(f.links.map((link) => linkName(link)))} of this aim ${f.links.length > 1 ? 'have' : 'has'} no effect.`,
	'mode-clash': (f) => `“${f.other}” has ${f.timer} count in another way; aims that share a timer count alike.`,
	'no-duty-unreachable': (f) => `The least that a compare makes active is ${f.least} of ${f.ticks} ticks: 0 % cannot be set.`,
	'held-compare-off': (f) =>
		`The held compare ${f.held} gives ${percent(f.duty)}; ${percent(f.wished)} is wished for, which is ${f.compare} on this reload.`,
	'sweep-empty': () => 'The sweep ends where it begins.',
	'cannot-buffer': (f) =>
		f.writes === 'buffered'
			? `${f.timer} has no buffer for its compare: a write in the middle of a period cuts or doubles a pulse.`
			: `${f.timer} always buffers its compare; it cannot be written at once.`,
	unbuffered: () => 'The compare is written unbuffered: a write in the middle of a period cuts or doubles a pulse.',
	'table-late': () => 'Buffered, and not filled before the start: row 0 lasts two periods, and every row acts one period late.',
	'write-late': (f) => `The write comes ${seconds(f.lag)} after the period event, a period is ${seconds(f.period)}: rows are left out.`,
	'base-outside': (f) =>
		`The rows repeat at ${hertz(f.hz)}, ${signed(ppm(f.ppm), f.ppm)} off ${hertz(f.wish)}; ± ${ppm(f.tolerance)} is allowed. The carrier is no whole multiple of the base rate.`,
	'rows-too-few': (f) => `The carrier gives ${decimal(f.rows)} rows a period of the base rate; at least 2 are wanted.`,
	'rows-too-many': (f) => `This comes to ${decimal(f.rows)} rows; ${f.limit} is the most. Lower the carrier, or raise the base rate.`,
	'row-unread': (f) =>
		`Line ${f.row} of the own shape cannot be read: a number of -1 to 1 or a percent an output is wanted, parted by commas, and a period if the row has its own.`,
	'row-outside': (f) => `Row ${f.row} asks for ${percent(f.duty)}: amplitude and offset together go beyond 0 to 100 %.`,
	'no-interrupt': (f) =>
		`The part lists no interrupt of ${f.timer} for “${f.event}”; notice it by polling, or choose a timer that has one.`,
	'software-late': (f) =>
		`Software ${f.mode === 'clear' ? 'clears' : 'reloads'} the counter about ${f.ticks} ticks late: the compensation holds only for that very service time, and every variation of it drifts.${f.better === 'up' ? ' Counting to a reload needs no software.' : f.better === 'advance' ? ' Moving the compare on instead does not drift, however late the service.' : ''}`,
	'gate-coarse': (f) =>
		`Counted for this gate, one count at ${hertz(f.hz)} is ${percent(f.step)} of the reading; ${percent(f.wanted)} wants a gate of ${seconds(f.gate)}.`,
	'gate-full': (f) => `Edges can be counted up to ${hertz(f.most)}; ${hertz(f.wish)} is wished for.`,
	'width-wraps': (f) =>
		`Pulses longer than ${seconds(f.longest)} wrap the counter and read short without a sign; ${seconds(f.wish)} is wished for. Count overflows, or take a larger prescale.`,
	'width-coarse': (f) =>
		`One count is ${percent(f.step)} of the shortest pulse; ${percent(f.wanted)} is wished for. A faster tick with overflows counted would be finer.`,
	'width-service': (f) => `Software turns the edge round in ${seconds(f.shortest)}; a pulse of ${seconds(f.wish)} is over before.`,
	'start-outside': (f) => `The count cannot begin at ${f.start}; the last is ${f.last}.`,
	'units-differ': () => 'The ends of the mapping are of different kinds; give both the same unit.',
	'bounce-longer': (f) =>
		`The trigger bounces for ${seconds(f.bounce)}, and the pulse is over after ${seconds(f.pulse)}: a late bounce fires it again.`,
	'bounce-restarts': (f) =>
		`Every bounce within ${seconds(f.bounce)} restarts the pulse: it ends that much later. Ignore further edges instead.`,
	'frame-outside': (f) =>
		`The factors come to ${seconds(f.seconds)}, ${signed(ppm(f.ppm), f.ppm)} off ${seconds(f.wish)}; ± ${ppm(f.tolerance)} is allowed.`,
	'factors-too-many': (f) =>
		`${f.count} ticks would want more than four factors of up to ${f.factor}. A slower tick, or larger counters, would do.`,
	'width-over-frame': (f) => `“${f.output}” is ${seconds(f.width)} wide; the period is ${seconds(f.frame)}.`,
	'width-below-tick': (f) => `“${f.output}” of ${seconds(f.width)} is less than half a tick of ${seconds(f.tick)}: it never comes.`,
	'leader-missing': () => 'The aim that it follows is gone; choose another.',
	'leader-ring': () => 'It follows itself, by its own timer or by way of others; choose another leader.',
	'leader-unclear': (f) => `“${f.leader}” has no steady period to follow yet: see its own findings.`,
	'repeat-shared': (f) =>
		`${f.value} is asked for, but the whole timer repeats as “${f.other}” says: an update follows after ${f.count} more periods. Ask for the same.`,
	'updates-refused': (f) => `${f.timer} cannot have its period events ${ENDS[f.wished]}; choose another end, or let the timer decide.`,
	'updates-shared': (f) =>
		`Period events ${ENDS[f.wished]} are asked for, but the timer has them ${ENDS[f.at]}, as “${f.other}” says. Ask for the same.`,
	'updates-idle': () => 'Only a counter that counts up and down has two ends to choose from; this choice does nothing here.',
	'row-uneven': (f) =>
		`Row ${f.row} has ${f.values} ${f.values === 1 ? 'value' : 'values'}; ${f.wanted} ${f.wanted === 1 ? 'is' : 'are'} wanted, one an output.`,
	'legs-need-halves': () => 'Slow legs carry the half waves of two outputs: choose a half wave and a second output, or no slow legs.',
	'legs-late': (f) =>
		`With ${seconds(f.after)} from the zero crossing until it is on, a leg never carries its half wave of ${seconds(f.half)}.`,
	'output-off': (f) => `Its output is not enabled: ${f.timer} counts, and the pin stays at its inactive level.`,
	'interrupt-off': (f) => `Its interrupt is not enabled: ${f.timer} raises its events, and no software serves them.`,
	'flag-kept': () =>
		'The flag of its event is not cleared where it is served: no later event is seen as a new one, so only the first is served.',
	'priority-differs': (f) =>
		`The interrupt’s priority is set to ${f.priority}, its service is written for ${f.handler}: the two must be the same.`,
	'knob-nothing': (f) =>
		f.other === undefined
			? 'The aim whose duty the count shall drive is not there; choose one.'
			: `“${f.other}” has no duty that a compare sets; choose a pulse or a pair.`,
	'knob-idle': (f) =>
		`${f.counts} counts drive ${decimal(f.steps, 4)} steps of the duty: some counts change nothing. A slower rate of the pulses or fewer counts would help.`,
	'period-moves': (f) =>
		`The rows of “${f.other}” set the period of ${f.timer} anew while it runs: this aim’s could not stay. Give one of the two another timer.`,
	'stream-taken': (f) => `${f.timer} paces the words of “${f.other}” already, and sends one stream only.`,
	'reset-cuts': (f) =>
		`Its own period is ${signed(ppm(f.ppm), f.ppm)} off its leader’s in rate: each reset cuts it short, or comes late. Choose a timer that can count the leader’s period.`,
	'lead-twice': (f) =>
		`Its leader counts up and down and meets ${f.compare} twice a period: each would reset it. Only 0 and ${f.reload}, where it turns, come once. Let the leader count one way, or start this one instead.`,
	'lead-unmet': (f) => `The leader’s ${f.channel} compares with ${f.compare}, which its counter never holds: nothing ever comes.`,
	'lead-moves': (f) => `“${f.other}” moves the compare of ${f.channel} row by row: its match has no one lag. Choose another event.`,
	'trigger-shared': (f) =>
		`${f.timer} has one trigger, and it follows as “${f.other}” says. Choose the same leader, event, input and action, or another timer.`,
	'gate-never': (f) => `No aim drives ${f.channel} of the leader: its level never opens the gate.`,
	'source-loose': (f) =>
		`${f.source} alone may be ${ppm(f.ppm)} off, more than the ± ${ppm(f.tolerance)} that are allowed: no register can mend that. Take a better source, or allow more.`,
	'active-at-rest': (f) =>
		`Until its leader first starts it the pin stays ${f.high ? 'high' : 'low'}, which is active: give it an output that rests, or hold the pin until then.`,
	'leader-full': (f) => `Every compare of ${f.timer} is in use: none is left to start this one so much after “${f.leader}”.`,
	'no-route': (f) =>
		`“${f.event}” of ${f.from} ${f.input === 'auto' ? 'reaches no input' : `does not reach “${f.input}”`} of ${f.to} on this part.${f.nearest ? '' : ' No other timer can be reached by it either.'}`,
	'no-action': (f) => `${f.timer} has no input that could ${f.action} it${f.input === undefined ? '' : ` by ${f.input}`}.`,
	'lag-outside': (f) =>
		`The lag comes out ${signed(seconds(f.off), f.off)} (${signed(decimal(f.degrees, 4), f.degrees)} deg) off; ± ${seconds(f.allowed)} is allowed.`,
	'lag-beyond': (f) => `A lag of ${seconds(f.wish)} is a whole period of ${seconds(f.period)} or more.`,
	'lag-below-latency': (f) => `The trigger itself takes ${seconds(f.latency)}: no lag of ${seconds(f.wish)} can be had.`,
	drifts: (f) =>
		`Started once, it runs ${signed(ppm(f.ppm), f.ppm)} off its leader: the phase drifts away. Let the leader reset it every period.`,
	'gate-short': (f) => `The gate is open for ${seconds(f.on)}, less than one period of ${seconds(f.period)}.`,
	'part-as-percent': (f) => `${f.typed} is not ${f.exact}: type the fraction, and nothing is lost.`,
	'not-paced': (f) => `${f.timer} cannot ask for a transfer at its period event; choose a timer that can.`,
	'pattern-breaks': (f) => `A word takes up to ${seconds(f.most)}, the next is due after ${seconds(f.period)}: the stream breaks.`,
	'lags-reversed': () => 'The least lag is above the greatest.',
	'bit-twice': (f) => `Bit ${f.bit} is used by ${listed(f.lines)}; each line has a bit of its own.`,
	'bit-not-pin': (f) => `“${f.line}” is bit ${f.bit} of the words, but ${f.pin} is bit ${f.own} of its port.`,
	'ports-differ': (f) =>
		`“${f.line}” is led to ${f.pin} of port ${f.port}, the lines before it to port ${f.other}: one stream writes to one port.`,
	'lines-uneven': (f) => `“${f.line}” has ${f.words} levels where the longest line has ${f.longest}: it holds its last one.`,
	'pattern-empty': () => 'No line has a level yet: draw at least one.',
	'held-off-by-one': (f) =>
		`With ${listed(f.links.map(({ link, value }) => `${linkName(link)} ${value}`))} instead of ${listed(f.links.map(({ held }) => String(held)))} the wish would be met: one too ${f.links[0].value < f.links[0].held ? 'many' : 'few'}?`,
	'held-bytes-swapped': (f) => `With its bytes the other way round, ${f.value} instead of ${f.held}, the wish would be met.`,
	'held-other-clock': (f) =>
		`The held values would meet the wish with a clock of ${hertz(f.kernel)}: ${f.clock === 'reset' ? 'the one at reset' : f.clock === 'doubled' ? 'twice the one that reaches this timer' : 'half of the one that reaches this timer'}.`,
	'pin-missing': (f) => `Pin “${f.pin}” cannot lead out ${ledText(f)}; choose one that can.`,
	'pin-shared': (f) => `Pin ${f.pin} for ${ledText(f)} is taken by “${f.other}”.`,
	'pin-not-led': (f) => `Pin ${f.pin} is not led out on this package.`,
	'pin-none': (f) => `No pin leads ${ledText(f)} of this timer out.`
};
