import type { AimDerivation, Turned } from '../../core/aims/index.js';
import type { Plan } from '../../core/plan/index.js';
import type { Access } from '../../core/registers/index.js';
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
		constant: (_: AimDerivation, name: string, value: number) => `${linkName(name as Parameters<typeof linkName>[0])} ${value}`,
		function: ({ of, worst, low, high, unit }: Turned) => [
			`The ${of} from ${quantityText(low, unit, 6)} to ${quantityText(high, unit, 6)}, off by ${quantityText(worst.value, worst.unit, 4)} at the most.`,
			'0; -1: out of range; -2: something did not become ready.'
		]
	};
}
