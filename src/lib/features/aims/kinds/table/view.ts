import { type AimOf, kindOf } from '../../../../../core/aims/index.js';
import { choice, cyclesWord, field, NAME, placeText, type Token } from '../../../../components/tokens.js';
import { channelChoice, timerChoice, timerOf } from '../choices.js';
import type { AimView, SentencePlan } from '../view.js';
import OwnShape from './OwnShape.svelte';
import { words } from './words.js';

export const tableView: AimView<AimOf<'table'>> = {
	...words,
	wish: ({ base, carrier }) => `${base} on ${carrier}`,
	sentence,
	editor: OwnShape,
	edits: ({ shape }) => shape === 'own'
};

function sentence(aim: AimOf<'table'>, plan: SentencePlan): Token[] {
	const timer = timerOf(aim, plan);
	const others = timer
		? kindOf(aim)
				.channelsOn(timer)
				.filter(({ id }) => id !== aim.channel)
		: [];
	return [
		'Shape',
		NAME,
		'on',
		timerChoice(aim, plan),
		channelChoice(aim, plan),
		'and',
		choice('second', 'Second output', aim.second, [
			['', 'no other'],
			...others.map(({ id, name }): [string, string] => [id, placeText(plan.part, timer!, id, name)])
		]),
		'as a',
		choice('wave', 'Halves', aim.wave, [
			['full', 'full'],
			['half', 'half']
		]),
		choice('shape', 'Shape', aim.shape, [
			['sine', 'sine'],
			['triangle', 'triangle'],
			['third-harmonic', 'sine with third harmonic'],
			['trapezoid', 'trapezoid'],
			['own', 'shape of my own']
		]),
		'of',
		field('base', 'Base rate'),
		'±',
		field('baseTolerance', 'Tolerance of the base rate'),
		'on a carrier of',
		field('carrier', 'Carrier'),
		'±',
		field('tolerance', 'Tolerance'),
		', amplitude',
		field('amplitude', 'Amplitude'),
		'about',
		field('offset', 'Offset'),
		', written',
		choice('writes', 'Writes', aim.writes, [
			['buffered', 'buffered'],
			['immediate', 'at once']
		]),
		field('lag', 'Lag of the write in core cycles', 2),
		`${cyclesWord(aim.lag)} after each period event,`,
		choice('prefill', 'Before the start', aim.prefill, [
			['yes', 'filled before the start'],
			['no', 'not filled before']
		]),
		'.'
	];
}
