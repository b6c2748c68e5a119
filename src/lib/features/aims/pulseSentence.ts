import { pulseOn, pulsePlaces, type Derivation, type PwmAim } from '../../../core/plan/index.js';
import type { PartProfile } from '../../../core/part/index.js';
import { outputText } from '../../text/index.js';
import { choice, field, placeText, type Token } from '../../components/tokens.js';

const COUNTS = { up: 'up, edges aligned', down: 'down, edges aligned', updown: 'up and down, centred' };

/** The sentence of a pulse. Its place, a timer and a channel, is one choice. */
export function pulseSentence(aim: PwmAim, part: PartProfile): Token[] {
	const places = pulsePlaces(part).map(({ timer, channel }): [string, string] => [
		`${timer.id} ${channel.id}`,
		placeText(part, timer, channel.id, `${timer.name}, ${channel.name}`)
	]);
	return [
		'Drive',
		{ field: 'name', label: 'Name of the signal', least: 8, alone: true },
		'on',
		choice('place', 'Pin, timer and channel', placeOf(aim), places, 'choose a pin'),
		'at',
		field('rate', 'Rate or period'),
		'±',
		field('tolerance', 'Tolerance'),
		', duty',
		field('duty', 'Duty or on-time'),
		', at least',
		field('bits', 'Duty resolution'),
		', active',
		choice('polarity', 'Active level', aim.polarity, [
			['high', 'high'],
			['low', 'low']
		]),
		'.'
	];
}

export function placeOf({ timer, channel }: PwmAim): string {
	return `${timer} ${channel}`;
}

/** The aim with what was chosen in its sentence. */
export function withChoice(aim: PwmAim, key: string, value: string): PwmAim {
	if (key !== 'place') return { ...aim, [key]: value };
	const [timer, channel] = value.split(' ');
	return { ...aim, timer, channel };
}

/** How the pulse is counted and what it does while running. */
export function runSentence({ aim, timer, channel }: Derivation): Token[] {
	const aligns = (['up', 'down', 'updown'] as const).filter((mode) => timer?.modes.includes(mode));
	/** The channel's output models that make pulses in a way of counting that is open. */
	const outputs = (channel?.outputs ?? []).flatMap((output, i): [string, string][] =>
		timer && channel && pulseOn(timer, channel, { align: aim.align, output: String(i) }) ? [[String(i), outputText(output)]] : []
	);
	return [
		'Counting',
		choice(
			'align',
			'Way of counting',
			aim.align,
			[['auto', 'as the timer usually does'], ...aligns.map((mode): [string, string] => [mode, COUNTS[mode]])],
			`${aim.align}, not offered`
		),
		', output',
		choice('output', 'Output model', aim.output, [['auto', 'the first that makes pulses'], ...outputs], 'not offered'),
		'; at first',
		field('begin', 'Duty at first'),
		', sweeping to',
		field('sweep', 'End of the sweep'),
		'within',
		field('over', 'Time of the sweep'),
		', compares written',
		choice('writes', 'Writes', aim.writes, [
			['buffered', 'buffered'],
			['immediate', 'at once']
		]),
		'.'
	];
}
