import { type AimOf, kindOf } from '../../../../../core/aims/index.js';
import { choice, cyclesWord, field, NAME, placeText, type Token } from '../../../../components/tokens.js';
import { alignChoice, channelChoice, timerChoice, timerOf, updatesChoice } from '../choices.js';
import type { AimView, SentencePlan } from '../view.js';
import OwnShape from './OwnShape.svelte';
import { words } from './words.js';

export const tableView: AimView<AimOf<'table'>> = {
	...words,
	sketch: 'M0 26V6H3V26H15V6H21V26H30V6H40V26H45V6H57V26H60V6H72V26H75V6H86V26H91V6H99V26H107V6H112V26H122V6H125V26H132',
	example: 'sine 50 Hz on 20 kHz',
	wish: ({ base, carrier }) => `${base} on ${carrier}`,
	sentence,
	more,
	saysMore: ({ align, updates, legs }) => align !== 'auto' || updates !== 'auto' || legs !== 'none',
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

/** How the carrier is counted, and the slow legs of a bridge. */
function more(aim: AimOf<'table'>, plan: SentencePlan): Token[] {
	const legs: Token[] =
		aim.legs === 'none'
			? []
			: [
					field('legsAfter', 'Rows after the zero crossing', 2),
					'rows after the zero crossing with',
					field('legsDead', 'Dead time of the slow legs'),
					'of both off, on pins',
					field('plus', 'Pin of the plus leg', 3),
					'and',
					field('minus', 'Pin of the minus leg', 3)
				];
	return [
		'Counting',
		alignChoice(aim, plan),
		', period events',
		updatesChoice(aim, plan),
		'; slow legs of a bridge',
		choice('legs', 'Slow legs', aim.legs, [
			['none', 'none'],
			['switched', 'switched']
		]),
		...legs,
		'.'
	];
}
