import { type AimOf, pulseOn, pulsePlaces } from '../../../../../core/aims/index.js';
import { choice, field, placeText, type Token } from '../../../../components/tokens.js';
import { outputText } from '../../../../text/index.js';
import { alignChoice, timerOf } from '../choices.js';
import type { AimView, SentencePlan } from '../view.js';
import { words } from './words.js';

type PwmAim = AimOf<'pwm'>;

export const pwmView: AimView<PwmAim> = {
	...words,
	sketch: 'M0 26V6H14V26H44V6H58V26H88V6H102V26H132',
	example: '1.2 kHz 35 %',
	wish: ({ rate, duty }) => `${rate}, ${duty}`,
	sentence,
	more,
	saysMore: ({ align, output, begin, sweep, writes }) =>
		align !== 'auto' || output !== 'auto' || begin !== '' || sweep !== '' || writes !== 'buffered',
	chosen: (aim, name) => (name === 'place' ? placeOf(aim) : undefined),
	withChoice
};

/** Its place, a timer and a channel, is one choice. */
function sentence(aim: PwmAim, { part }: SentencePlan): Token[] {
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

function placeOf({ timer, channel }: PwmAim): string {
	return `${timer} ${channel}`;
}

function withChoice(aim: PwmAim, name: string, value: string): PwmAim {
	if (name !== 'place') return { ...aim, [name]: value };
	const [timer, channel] = value.split(' ');
	return { ...aim, timer, channel };
}

/** How the pulse is counted and what it does while running. */
function more(aim: PwmAim, plan: SentencePlan): Token[] {
	const timer = timerOf(aim, plan);
	const channel = timer?.channels.find(({ id }) => id === aim.channel);
	/** The channel's output models that make pulses in a way of counting that is open. */
	const outputs = (channel?.outputs ?? []).flatMap((output, i): [string, string][] =>
		timer && channel && pulseOn(timer, channel, { align: aim.align, output: String(i) }) ? [[String(i), outputText(output)]] : []
	);
	return [
		'Counting',
		alignChoice(aim, plan),
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
