/** Steps of a set-up in their usual order (handoff.md 5). */
export const STEPS = [
	'tree',
	'gate',
	'pins',
	'stop',
	'zero',
	'source',
	'prescale',
	'mode',
	'buffers',
	'reload',
	'compares',
	'inputs',
	'outputs',
	'triggers',
	'load',
	'interrupts',
	'flags',
	'global',
	'run'
] as const;

export type SetUpStep = (typeof STEPS)[number];

const WORD = '[a-z0-9][a-z0-9-]*';
const EVENT = `${WORD}(?::${WORD})*`;

/** Quantities by the step that writes them. `run` has two: off at `stop`, on at `run`. */
const QUANTITIES: [SetUpStep, RegExp][] = (
	[
		['tree', `clock:${WORD}(?::on)?|wait-states`],
		['gate', 'gate'],
		['pins', `pin:${WORD}(?::out)?`],
		['zero', 'count'],
		['source', 'source|encoder(?::index)?'],
		['prescale', 'prescale(?::[1-9][0-9]*)?|postscale'],
		['mode', 'mode|one-shot|retrigger|update-at|tap'],
		['buffers', `buffer:(?:reload|prescale|compare(?::${WORD})?)`],
		['reload', 'reload|preload|repeat'],
		['compares', `compare:${WORD}(?::2)?`],
		['inputs', `(?:capture|edge|every|filter):${WORD}`],
		['outputs', `output:${WORD}|(?:polarity|drive|idle):${WORD}(?::n)?|dead(?::${WORD}(?::(?:rise|fall))?)?|outputs|fault`],
		['triggers', `trigger|action(?::${WORD})?|send`],
		['load', 'load'],
		['interrupts', `(?:interrupt|paced):${EVENT}`],
		['flags', `flag:${EVENT}`],
		['global', `global(?::${WORD})?`],
		['run', 'run']
	] as const
).map(([step, names]) => [step, new RegExp(`^(?:${names})$`)]);

/** The step that writes a quantity; undefined for what is none. */
export function stepOf(quantity: string): SetUpStep | undefined {
	return QUANTITIES.find(([, names]) => names.test(quantity))?.[0];
}

export const isStep = (word: string): word is SetUpStep => (STEPS as readonly string[]).includes(word);

export const isFlag = (quantity: string): boolean => quantity.startsWith('flag:');
