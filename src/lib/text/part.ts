import type { Factors, Multiples, OutputProfile } from '../../core/part/index.js';

/** What the keys of a part profile are called in its forms; a key that is not here is called by itself. */
const NAMES: Record<string, string> = {
	hz: 'frequency',
	ppm: 'tolerance in ppm',
	lo: 'lowest',
	hi: 'highest',
	min: 'lower limit',
	max: 'upper limit',
	why: 'reason',
	chosen: 'the board decides it',
	from: 'from',
	by: 'factors',
	fractionBits: 'bits of fraction',
	watch: 'looks at',
	table: 'factor for each setting',
	otherwise: 'else the factor',
	reset: 'at reset',
	kernel: 'timer clock',
	gate: 'gate',
	postscale: 'postscale of the overflow',
	width: 'width in bits',
	modes: 'ways of counting',
	rule: 'period rule',
	preload: 'loaded again by',
	tap: 'bits to tap',
	update: 'period event of up-down counting at',
	repeat: 'largest repeat count',
	buffered: 'buffered registers',
	loadNow: 'buffers can be loaded at once',
	oneShot: 'one-shot',
	retrigger: 'a further trigger',
	times: 'counts an edge in times',
	index: 'has an index input',
	inputs: 'trigger inputs',
	actions: 'what it can do',
	latency: 'latency in timer clock cycles',
	sources: 'events it sends',
	outputEnable: 'output enable',
	idle: 'idle levels',
	fault: 'fault input',
	paced: 'asks for transfers at',
	outputs: 'output models',
	sense: 'active',
	edge: 'a match acts on',
	initial: 'level at first',
	zero: 'at zero',
	top: 'at top',
	matchUp: 'match counting up',
	matchDown: 'match counting down',
	complement: 'complementary output',
	segments: 'dead-time segments',
	separate: 'rise and fall apart',
	capture: 'capture',
	every: 'every n-th edge',
	filters: 'input filters',
	samples: 'equal samples',
	divide: 'one each so many cycles',
	delay: 'synchroniser cycles',
	secondCompare: 'two compares in up-down counting',
	ledOut: 'led out',
	functions: 'functions',
	core: 'clock of the core',
	on: 'raised by'
};

/** `within`: the keys that lead to it, where one word stands for two things. */
export function profileKey(key: string | number, within: readonly (string | number)[] = []): string {
	if (typeof key === 'number') return String(key + 1);
	if (key === 'max' && within.includes('prescaler')) return 'largest ratio';
	return NAMES[key] ?? key;
}

/** A place in a profile, as a person would say it, with the ids of the elements it leads through. */
export function profilePlace(path: readonly (string | number)[], document: unknown): string {
	let here = document;
	const words: string[] = [];
	path.forEach((key, i) => {
		here = here !== null && typeof here === 'object' ? (here as Record<string | number, unknown>)[key] : undefined;
		const id = typeof key === 'number' && here !== null && typeof here === 'object' ? (here as { id?: unknown }).id : undefined;
		// An element is called by its id, without the list that it stands in.
		if (typeof id === 'string' && id !== '') words.splice(-1, 1, id);
		else words.push(profileKey(key, path.slice(0, i)));
	});
	return words.length === 0 ? 'the profile' : words.join(' › ');
}

/** An output model in a few words: "active below the compare". */
export function outputText(output: OutputProfile): string {
	if (output.model === 'level') return `active ${output.sense} the compare`;
	const words = [
		output.zero && `${output.zero} at zero`,
		output.top && `${output.top} at top`,
		output.matchUp && `${output.matchUp} at the match${output.matchDown ? ' going up' : ''}`,
		output.matchDown && `${output.matchDown} at the match${output.matchUp ? ' going down' : ''}`
	].filter(Boolean);
	return words.length === 0 ? 'no action' : `${words.join(', ')}${output.edge === 'leave' ? ', as the count leaves it' : ''}`;
}

/** "1 to 16", "2, 4 and 8", "8 to 63 and steps of 1/1024": what a node offers. */
export function factorsText(by: Factors | Multiples): string {
	if (!Array.isArray(by))
		return `${by.from} to ${by.to}${'fractionBits' in by && by.fractionBits ? `, and steps of 1/${2 ** by.fractionBits} between` : ''}`;
	const all = by.map(String);
	const shown = all.length > 16 ? [...all.slice(0, 12), '…', all[all.length - 1]] : all;
	return shown.join(', ');
}
