import type { Aim, AimDerivation, Turned } from '../../core/aims/index.js';
import type { Plan } from '../../core/plan/index.js';
import type { DumpTrouble, SvdFault, SvdTrouble } from '../../core/formats/index.js';
import type { OrderFinding } from '../../core/handoff/index.js';
import type { Access, RegisterFinding } from '../../core/registers/index.js';
import { linkName } from './names.js';
import { quantityText } from './numbers.js';

/** What is done in each step of a set-up, and why there. */
const STEPS: Record<string, string> = {
	tree: 'the clock tree, from its sources up, before anything hangs on it',
	gate: 'the clock of the block, before it is reached',
	pins: 'pins to their functions',
	stop: 'stopped while it is set up',
	zero: 'the count at its start',
	source: 'what it counts',
	prescale: 'the divider before the counter',
	mode: 'the way of counting',
	buffers: 'which values wait for an update',
	reload: 'the period',
	compares: 'where outputs act',
	inputs: 'edges and filters of inputs',
	outputs: 'what pins do, and how they rest',
	triggers: 'what starts it, and what it sends',
	load: 'buffers are taken now; this may raise flags',
	interrupts: 'events that ask for software',
	flags: 'what was raised on the way is cleared',
	global: 'interrupts are let through, after all of them can be served',
	run: 'it runs, after everything is set up'
};

/** Why a step stands where it stands; of a quantity that is a step of its own its name. */
export function stepText(step: string): string {
	return STEPS[step] ?? step;
}

/** What the order of the steps lets happen. */
export function orderFindingText({ code, unit, before, of }: OrderFinding): string {
	const texts: Record<OrderFinding['code'], string> = {
		'pins-early': `${of.join(', ')} ${of.length === 1 ? 'is' : 'are'} switched over before polarity and rest level are set: low until then, a glitch. Later is safe: after the outputs`,
		'runs-early': `${unit} runs before its ${before} is set: its first periods are others`,
		'gate-late': `the clock of ${unit} is let in after its ${before} is written: that is lost`,
		'stop-late': `${unit} is stopped after its ${before} is written: it may still run then`,
		'load-early': `${unit} loads before its ${before} is written: that waits for an update`,
		'flags-early': `flags of ${unit} are cleared before its load, which raises them again`,
		'flags-late': `flags of ${unit} are cleared after it runs: its first event can be lost`,
		'global-early': `interrupts of ${unit} are let through before its flags are cleared: an old event is served at once`
	};
	return texts[code];
}

/** What an access is for: "prescale, mode". */
export function accessText({ for: quantities }: Access): string {
	return quantities.map((name) => name.slice(name.indexOf('.') + 1)).join(', ');
}

/** The words of generated code. `mark`: what names the plan's state, the same for the same plan. */
export function codeWords(plan: Plan, mark: string) {
	const about = {
		header: 'Timers set up as planned: what can be called, and the planned values.',
		source: 'Timers set up as planned, register by register, in the order in which it must be done.',
		values: 'The planned values, for an assembler or a script.'
	};
	return {
		head: (what: keyof typeof about) => [
			about[what],
			`Plan: ${plan.name}, for ${plan.part.name}. State: ${mark}.`,
			...(what === 'source' ? ['Registers at addresses below 4096 want --param=min-pagesize=0 from some compilers.'] : []),
			'Written by Nolvet; changes belong into the plan.'
		],
		access: accessText,
		step: stepText,
		about: {
			setUp: 'Sets everything up; nothing runs yet. 0, or -1: something did not become ready.',
			start: 'Lets it run, those that are triggered first.',
			stop: 'Stops every counter.',
			wait: 'Waits until bits are as wanted, and gives up.',
			address: 'Where registers are: a test may put them elsewhere.'
		},
		rows: {
			row: (rows: number, quantities: readonly string[]) =>
				`Writes row 0 to ${rows - 1} of the table: ${quantities.join(', ')}. 0; -1: there is no such row; -2: something did not become ready.`,
			next: (loop: boolean) =>
				`Writes the next row, from the first on: to be called once for each; ${loop ? 'the first comes again behind the last' : 'the last one stays'}.`
		},
		serving: {
			body: (events: readonly string[], level: boolean) =>
				`To be called from the interrupt of ${events.join(', ')}${level ? ', with the level that the input has now' : ''}. 0; -2: something did not become ready.`,
			reading: (of: keyof typeof READINGS, derivation: AimDerivation) => READINGS[of](derivation),
			left: ({ name }: Aim) => `${name}: what it reads is not written as code: it hangs on more than registers.`
		},
		constant: (_: AimDerivation, name: string, value: number) => `${linkName(name as Parameters<typeof linkName>[0])} ${value}`,
		function: ({ of, worst, low, high, unit }: Turned) => [
			`The ${of} from ${quantityText(low, unit, 6)} to ${quantityText(high, unit, 6)}, off by ${quantityText(worst.value, worst.unit, 4)} at the most.`,
			'0; -1: out of range; -2: something did not become ready.'
		]
	};
}

/** What the functions tell that read while it runs. */
const READINGS = {
	rate: ({ aim }: AimDerivation) =>
		'method' in aim && aim.method === 'gated'
			? ['The rate in the gate that ends now, rounded to a thousandth of a hertz: to be called once a gate.', '0; -1: more than fits.']
			: ['The rate between the last two captures, rounded to a thousandth of a hertz.', '0; -1: none was captured yet.'],
	width: () => ['The last pulse, rounded to a nanosecond.', '0; 1: it is outside what is accepted; -1: none came yet.'],
	position: ({ aim }: AimDerivation) =>
		'ends' in aim && aim.ends === 'clamp'
			? ['The position in counts; it stays at its ends. To be called before half the range has gone by.']
			: ['The position in counts.'],
	ticks: () => ['Ticks since the start.'],
	levels: () => ['Outputs that are high now: the first is bit 0.']
};

const FINDINGS: Record<string, string> = {
	'bad-shape': 'a key, a text or a number that is not understood',
	'unknown-name': 'it names something that is not there',
	circle: 'it leads round in a circle',
	outside: 'bits or addresses beyond where they may be',
	unaligned: 'its address is no multiple of its width',
	'no-fit': 'a number larger than its place',
	order: 'an unknown step, or one twice',
	'no-unit': 'the part does not say where its registers are',
	'no-place': 'the part does not say where it lives',
	'no-step': 'its step is not in the order',
	'no-code': 'the register has no code for this value',
	'needs-run': 'it cannot be kept while the timer is not to run',
	'needs-value': 'running hangs on a quantity that is not planned',
	'unknown-bits': 'written whole with bits that nobody knows; they are written as 0',
	contradiction: 'the byte is told twice, differently; it counts as missing',
	missing: 'bytes that a value needs are not in the dump',
	'write-only': 'it cannot be read back',
	'no-meaning': 'a code that stands for nothing',
	stray: 'bits that nothing speaks of are not as at reset',
	'read-changes': 'reading it changes it: the next dump may differ'
};

/** What a finding of a binding, a set-up or a dump says. */
export function registerFindingText([code, ...details]: RegisterFinding): string {
	if (code === 'overlap') return details.length > 1 ? 'both want one bit, differently' : 'a bit that is named twice';
	return FINDINGS[code] ?? code;
}

const DUMP_TROUBLES: Record<DumpTrouble, string> = {
	checksum: 'its checksum is wrong: nothing of it is taken',
	length: 'it does not have as many bytes as it says',
	wraps: 'it goes beyond the end of its 64 KiB',
	'no-end': 'the record that ends it is missing',
	count: 'it counts other records than stand here',
	'not-read': 'it is in no shape that is read here',
	'unknown-name': 'no register is called so',
	'no-address': 'it does not say where it is: an address before it, or a base',
	unmarked: 'digits without 0x: they can be taken as hexadecimal',
	grouped: 'its bytes stand in groups: as they lie in memory, or as words with the lowest byte last? Nothing of it is taken yet',
	offsets: 'it begins at 0: where these are offsets, say where it begins',
	'too-long': 'there are more lines than are taken: the rest is left out'
};

export function dumpTroubleText(trouble: DumpTrouble): string {
	return DUMP_TROUBLES[trouble];
}

const SVD_TROUBLES: Record<SvdTrouble, string> = {
	'no-xml': 'this is no XML that is whole',
	doctype: 'it has a document type: nothing of that is followed',
	encoding: 'it is not in UTF-8',
	'too-deep': 'it is nested deeper than any description is',
	'too-long': 'a text in it is longer than any description’s is',
	'too-many': 'it has more elements than can be read',
	'no-device': 'it describes no device'
};

export function svdTroubleText(trouble: SvdTrouble): string {
	return SVD_TROUBLES[trouble];
}

const SVD_FAULTS: Record<SvdFault, string> = {
	'no-number': 'a number that is none',
	'no-name': 'it has no name',
	'no-base': 'it has no base address',
	'no-place': 'it does not say where it is',
	'unknown-name': 'it is derived from something that is not there',
	circle: 'it is derived from itself, by way of others',
	overlap: 'it lies on another field',
	outside: 'it lies beyond its register',
	'bad-index': 'its indices are not as many as its elements',
	'too-many': 'it repeats more registers than can be read'
};

export function svdFaultText(fault: SvdFault): string {
	return SVD_FAULTS[fault];
}
