import { type Aim, type Stimulus, type StimulusKind, kindOf } from '../../../core/aims/index.js';
import { freshStimulus, stimulusKinds } from '../../../core/predict/index.js';
import type { Recording } from '../../session/recordings.svelte.js';
import { choice, field, type Token } from '../../components/tokens.js';

const KINDS: Record<StimulusKind, string> = {
	square: 'a square wave',
	sweep: 'a sweep of rates',
	contact: 'a bouncing contact',
	quadrature: 'a turning encoder',
	echo: 'pulses that grow',
	recorded: 'a recorded line'
};

/** The sentence that says what comes to an aim's inputs; its choice "kind" changes what is said at all. */
export function stimulusSentence(aim: Aim, stimulus: Stimulus, recordings: readonly Recording[]): Token[] {
	const kind = choice(
		'kind',
		'What comes to the input',
		stimulus.kind,
		stimulusKinds(aim).map((one) => [one, KINDS[one]])
	);
	const sentence = SENTENCES[stimulus.kind] as (kind: Token, of: Stimulus, aim: Aim, recordings: readonly Recording[]) => Token[];
	return sentence(kind, stimulus, aim, recordings);
}

type Of<K extends StimulusKind> = Extract<Stimulus, { kind: K }>;

function recordedSentence(kind: Token, stimulus: Of<'recorded'>, aim: Aim, recordings: readonly Recording[]): Token[] {
	const recording = recordings.find(({ id }) => id === stimulus.recording);
	const lines = (recording?.lines ?? []).map(({ name }): [string, string] => [name, name]);
	const second: Token[] =
		(kindOf(aim).inputs?.lines.length ?? 0) > 1 ? ['and', choice('second', 'Line of the second input', stimulus.second, lines)] : [];
	return [
		kind,
		'of',
		choice(
			'recording',
			'Recording',
			stimulus.recording,
			recordings.map(({ id, name }) => [id, name])
		),
		':',
		choice('line', 'Recorded line', stimulus.line, lines),
		...second,
		'.'
	];
}

const SENTENCES: { [K in StimulusKind]: (kind: Token, of: Of<K>, aim: Aim, recordings: readonly Recording[]) => Token[] } = {
	square: (kind) => [
		kind,
		'of',
		field('rate', 'Rate of the signal'),
		', duty',
		field('duty', 'Duty of the signal'),
		', edges off by up to',
		field('jitter', 'Jitter'),
		', for',
		field('over', 'Length of the signal'),
		'.'
	],
	sweep: (kind, { course = 'even' }) => [
		kind,
		'from',
		field('from', 'First rate'),
		'to',
		field('to', 'Last rate'),
		choice('course', 'Course of the sweep', course, [
			['even', 'evenly'],
			['ratio', 'by equal ratios']
		]),
		'within',
		field('over', 'Length of the signal'),
		', duty',
		field('duty', 'Duty of the signal'),
		'.'
	],
	contact: (kind) => [
		kind,
		'that closes after',
		field('first', 'First closing'),
		', is held for',
		field('held', 'Time it is held'),
		', bounces',
		field('bounces', 'Bounces', 2),
		'times within',
		field('bounce', 'Time of bouncing'),
		'and closes again every',
		field('every', 'Time between two closings'),
		'(empty: never), in all',
		field('times', 'Closings in all', 2),
		'times.'
	],
	echo: (kind) => [
		kind,
		'from',
		field('from', 'First width'),
		'to',
		field('to', 'Last width'),
		'within',
		field('over', 'Length of the signal'),
		', one every',
		field('every', 'Time between two pulses'),
		'(empty: twice the longest).'
	],
	quadrature: (kind) => [kind, ', edges off by up to', field('jitter', 'Jitter'), '.'],
	recorded: recordedSentence
};

/** The stimulus with a field or a choice changed; another recording brings its first line. */
export function changedStimulus(aim: Aim, stimulus: Stimulus, key: string, value: string, recordings: readonly Recording[]): Stimulus {
	if (key === 'kind') {
		const fresh = freshStimulus(aim, value as StimulusKind);
		return fresh.kind === 'recorded' && recordings.length > 0 ? withRecording(fresh, recordings[0]) : fresh;
	}
	if (key === 'recording' && stimulus.kind === 'recorded') {
		const recording = recordings.find(({ id }) => id === value);
		return recording ? withRecording(stimulus, recording) : stimulus;
	}
	return { ...stimulus, [key]: value };
}

function withRecording(stimulus: Extract<Stimulus, { kind: 'recorded' }>, { id, lines }: Recording): Stimulus {
	return { ...stimulus, recording: id, line: lines[0]?.name ?? '', second: lines[1]?.name ?? lines[0]?.name ?? '' };
}
