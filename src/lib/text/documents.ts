import type { DocumentFinding, FindingDetails } from '../../core/part/index.js';
import type { StepMismatch } from '../../core/plan/index.js';

/** What is wrong in a plan or a part profile, by its code. */
const PROBLEMS: Record<string, (d: FindingDetails) => string> = {
	'no-json': ({ reason }) => `this is no JSON: ${reason}`,
	'text-unclean': () => 'a NUL or half a character stands here; whole characters are wanted',
	'object-wanted': () => 'a part profile is an object in braces',
	'version-wanted': () => 'a plan file has a version of 1 or more',
	'version-newer': ({ version, known }) => `version ${version} is newer than the ${known} that is known here`,
	'unknown-key': () => 'no such setting is known here',
	'not-understood': () => 'nothing that is understood here',
	'wrong-type': ({ expected }) => `${typeWord(expected)} is wanted here`,
	'wrong-word': ({ known }) => `one of these is wanted: ${known}`,
	'wrong-format': () => 'this text has a form that is not taken here',
	'id-wanted': () => 'small letters, digits and dashes, a letter first',
	'number-wanted': () => 'a number such as "72000000" or "3/2" is wanted',
	'zero-denominator': () => 'a fraction cannot have 0 below the line',
	'positive-wanted': () => 'a number above zero is wanted',
	'address-wanted': () => 'an address that begins with https://, http:// or / is wanted',
	'function-wanted': () => 'a function is wanted, such as "timer-a.ch1"',
	'event-wanted': () => 'an event is wanted, such as "update" or "match:ch1"',
	'too-small-string': ({ limit }) => `at least ${limit} ${limit === 1 ? 'character is' : 'characters are'} wanted`,
	'too-large-string': ({ limit }) => `at most ${limit} characters are taken`,
	'too-small-array': ({ limit }) => `at least ${limit} ${limit === 1 ? 'entry is' : 'entries are'} wanted`,
	'too-large-array': ({ limit }) => `at most ${limit} entries are taken`,
	'too-small-number': ({ limit }) => `${limit} or more is wanted`,
	'too-large-number': ({ limit }) => `${limit} or less is wanted`,
	'too-small-int': ({ limit }) => `a whole number of ${limit} or more is wanted`,
	'too-large-int': ({ limit }) => `a whole number of ${limit} or less is wanted`,
	'id-twice': ({ id }) => `"${id}" stands twice`,
	'no-node': ({ id }) => `there is no clock node "${id}"`,
	'limits-crossed': () => 'the lower limit lies above the upper one',
	'tolerance-crossed': () => 'lo lies above hi',
	'range-reversed': () => 'the range ends before it begins',
	'reset-no-factor': ({ reset }) => `${reset} is none of its factors`,
	'reset-no-input': ({ reset }) => `"${reset}" is none of its inputs`,
	'input-twice': () => 'an input stands twice',
	'watch-no-divide': () => 'only a divide node can be watched',
	'clock-cycle': ({ id }) => `the clock of "${id}" comes back to itself`,
	'input-is-channel': ({ id }) => `"${id}" is a channel already`,
	'segment-reversed': () => 'the segment ends before it begins',
	'preload-unsaid': () => 'counting from a preload wants "hardware" or "software" here',
	'tap-unsaid': () => 'a tapped bit wants the bits that can be tapped here',
	'tap-outside': ({ last }) => `bits 0 to ${last} can be tapped, from the lower to the higher`,
	'no-channel': ({ id }) => `there is no channel "${id}"`,
	'code-twice': ({ code }) => `code ${code} stands twice`,
	'ladder-stopped': () => 'no step lets the counter run',
	'no-timer': ({ id }) => `there is no timer "${id}"`,
	'no-source': ({ source, timer }) => `"${source}" is none of the sources of "${timer}"`,
	'no-input': ({ input, timer }) => `"${timer}" has no input "${input}"`,
	'no-element': ({ element, timer }) => `"${timer}" has no channel or input "${element}"`,
	'no-complement': ({ element, timer }) => `"${timer}.${element}" has no complementary output`
};

const TYPES: Record<string, string> = {
	string: 'a text',
	number: 'a number',
	int: 'a whole number',
	boolean: 'true or false',
	array: 'a list',
	object: 'an object in braces',
	record: 'an object in braces'
};

function typeWord(expected: string | number): string {
	return TYPES[String(expected)] ?? String(expected);
}

/** What is wrong with a document at a place, without the place. */
export function documentText({ code, details = {} }: Pick<DocumentFinding, 'code' | 'details'>): string {
	return PROBLEMS[code]?.(details) ?? code;
}

/** All that is wrong with a document, each with its place. */
export function documentsText(findings: readonly DocumentFinding[]): string {
	return findings.map((one) => (one.path.length === 0 ? documentText(one) : `${one.path.join('.')}: ${documentText(one)}`)).join('; ');
}

const MISMATCHES: Record<StepMismatch['code'], string> = {
	'nothing-there': 'there is nothing',
	changed: 'it has changed meanwhile',
	'no-place': 'there is no such place',
	'no-list': 'it is no list',
	'no-move': 'nothing can be moved there'
};

/** Why a step does not fit the document that it was made for. */
export function mismatchText({ code, path }: Pick<StepMismatch, 'code' | 'path'>): string {
	return `${path.join('.')}: ${MISMATCHES[code]}`;
}

const CLOCKS: Record<string, (d: FindingDetails) => string> = {
	cycle: () => 'its output comes back to its input',
	duplicate: () => 'its id stands twice',
	missing: ({ input }) => `its input “${input}” does not exist`,
	pick: ({ input }) => `“${input}” is none of its inputs`,
	factor: ({ factor }) => `no factor can be ${factor}`
};

/** Why a clock tree has no rates. */
export function clockTreeText(why: string, details: FindingDetails): string {
	return CLOCKS[why]?.(details) ?? why;
}
