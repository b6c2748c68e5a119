import { Rational, type Hertz, type Seconds } from '../../exact/index.js';
import type { ChannelProfile } from '../../part/index.js';
import { firstRatio, ratioTable } from '../../solve/index.js';
import { captureStep, crossoverSquared, gatedStep, highestForStep, largest, lowestCaptured } from '../../timer/index.js';
import { readRate, readTime, readTolerance, readWhole } from '../common/fields.js';
import type { CaptureAim } from './schema.js';
import { roundestPrescale, tellRound } from '../common/roundTick.js';
import { checkChannelFilter } from '../common/filter.js';
import { DerivationDraft } from '../common/draft.js';
import type { AimContext } from '../common/context.js';
import type { AimDerivation, Switching } from '../common/derivation.js';
import { prescaleLink } from '../common/period.js';

const POINTS = 60;
/** Where a larger count of edges is left again, of where it was taken up. */
const HYSTERESIS = Rational.ratio(7, 8);

/** What a rate's capture asks for, read. */
interface CaptureWish {
	lowest: Hertz;
	highest: Hertz;
	wanted: Rational;
	service: number;
	/** undefined: whichever fits. */
	every: number | undefined;
	counted: boolean;
	/** Gate time; undefined where edges are never counted. */
	gate: Seconds | undefined;
}

/**
 * A frequency by the time between captured edges (timers.md 8): the smallest prescale and every k-th edge at which the
 * whole range can be read, or the ranges between which k is switched, and what the processor can serve. Where counting
 * edges for a gate time is finer, it can take the place or the upper part of it.
 */
export function deriveCapture(aim: CaptureAim, context: AimContext): AimDerivation<CaptureAim> {
	const draft = new DerivationDraft(aim, context);
	const { derivation } = draft;
	const lowest = draft.take('lowest', readRate(aim.lowest));
	const highest = draft.take('highest', readRate(aim.highest));
	const wanted = draft.take('step', readTolerance(aim.step, highest))?.div(Rational.int(1_000_000));
	const service = draft.cycles('service', aim.service);
	const every = aim.every === 'auto' ? undefined : draft.take('every', readWhole(aim.every, 1));
	const gate = aim.method === 'capture' ? undefined : draft.take('gate', readTime(aim.gate));
	const { timer, kernel } = derivation;
	if (!timer || !kernel) return derivation;
	const channel = timer.channels.find((c) => c.id === aim.channel);
	if (!channel?.capture) draft.fault({ code: 'place-missing', what: aim.channel, timer: timer.name });
	else if (every !== undefined && !channel.capture.every.includes(every))
		draft.fault({ code: 'place-missing', what: String(every), of: 'every', timer: timer.name });
	if (aim.method !== 'capture' && !countsEdges(timer)) draft.fault({ code: 'no-action', action: 'clock', timer: timer.name });
	if (derivation.problems.length > 0 || !lowest || !highest || !wanted || service === undefined || (aim.method !== 'capture' && !gate))
		return derivation;
	if (lowest.compare(highest) > 0) {
		draft.fault({ code: 'range-reversed' });
		return derivation;
	}
	const wish = { lowest, highest, wanted, service, every, counted: aim.overflows === 'counted', gate };
	if (aim.method === 'gated') gated(draft, wish);
	else captured(draft, wish, channel!, aim.method === 'switched');
	checkChannelFilter(draft, aim, channel!, highest.mul(Rational.int(2)).inverse());
	return derivation;
}

/** Can the timer count edges of an input? */
export function countsEdges(timer: { inputs?: { actions: string[] }[] | undefined }): boolean {
	return (timer.inputs ?? []).some(({ actions }) => actions.includes('clock'));
}

/** Edges counted for a gate time: f = N / gate. */
function gated(draft: DerivationDraft, { lowest, highest, wanted, gate }: CaptureWish): void {
	const { derivation } = draft;
	const { kernel, timer, aim } = derivation;
	const most = Rational.int(largest(timer!.width)).div(gate!);
	const sampled = kernel!.div(Rational.int(2));
	derivation.use = { aim, kind: 'alone', prescale: 1 };
	derivation.strip = [{ name: 'prescale', value: 1 }];
	draft.figure('gate', gate!, 's');
	draft.figure('step-low', gatedStep(lowest, gate!), '%');
	draft.figure('step-high', gatedStep(highest, gate!), '%');
	draft.figure('lowest', wanted.mul(gate!).inverse(), 'Hz');
	draft.figure('highest-counted', most.compare(sampled) < 0 ? most : sampled, 'Hz');
	draft.formula('gated', { gate: gate!, step: gatedStep(lowest, gate!), lowest });
	if (gatedStep(lowest, gate!).compare(wanted) > 0)
		draft.fault({ code: 'gate-coarse', step: gatedStep(lowest, gate!), wanted, hz: lowest, gate: wanted.mul(lowest).inverse() });
	if (most.compare(highest) < 0) draft.fault({ code: 'gate-full', most, wish: highest });
	else if (sampled.compare(highest) < 0) draft.fault({ code: 'gate-full', most: sampled, wish: highest });
	const rates = evenly(lowest, highest);
	derivation.charts = [
		{
			code: 'step',
			series: [{ label: 'gated', points: rates.map((hz) => [hz, 100 / (hz * gate!.toNumber())]) }],
			range: [lowest.toNumber(), highest.toNumber()]
		}
	];
}

/** A count of edges a reading, with the smallest prescale that reaches the lowest rate with it. */
interface Option {
	every: number;
	prescale: number;
}

/** How capture serves a range up to some rate: the first count of edges, the prescale, and the counts it is switched through, if one alone does not keep the step. */
interface Served {
	highest: Hertz;
	chosen: Option;
	tickRate: Hertz;
	bands: number[] | undefined;
	/** The count of edges at the top of the range. */
	most: number;
	step: Rational;
}

function captured(draft: DerivationDraft, wish: CaptureWish, channel: ChannelProfile, switched: boolean): void {
	const { derivation, context } = draft;
	const { timer, aim } = derivation;
	const { lowest, wanted, counted, gate } = wish;
	const prescale = context.owner ? context.owner.prescale : draft.heldPrescale();
	if (prescale === null) return;
	if (context.owner) derivation.sharedWith = context.owner.aim;
	const ratios: ArrayLike<number> = prescale === undefined ? ratioTable(timer!.prescaler).ratios : [prescale];
	const offered = wish.every === undefined ? [...channel.capture!.every].sort((a, b) => a - b) : [wish.every];
	const options = offered.map((every) => ({
		every,
		prescale: firstRatio(ratios, (ratio) => reaches(draft, wish, { every, prescale: ratio })) ?? ratios[ratios.length - 1]
	}));
	let served = serve(draft, wish, options, wish.highest);
	// Above the cross-over the gate is finer: capture has to keep its step up to there only, which may take fewer edges a reading, and moves the cross-over down again.
	for (let top = crossing(wish, served, switched); top.compare(served.highest) < 0; top = crossing(wish, served, switched))
		served = serve(draft, wish, options, top);
	if (prescale === undefined) served = rounded(draft, wish, served, ratios[ratios.length - 1]);
	const { highest, chosen, tickRate, bands, most, step } = served;
	derivation.use = { aim, kind: 'free', prescale: chosen.prescale };
	derivation.strip = [prescaleLink(timer!, chosen.prescale), { name: 'every', value: chosen.every }];
	derivation.run.switching = switchingOf(served, wish, switched && highest.compare(wish.highest) < 0);
	const least = lowestCaptured(tickRate, timer!.width, chosen.every);
	const every = Rational.int(chosen.every);
	if (!counted) draft.figure('lowest', least, 'Hz');
	draft.figure('step-low', captureStep(lowest, tickRate, chosen.every), '%');
	draft.figure('step-high', step, '%');
	draft.figure('reading-low', every.div(lowest), 's');
	draft.figure('tick', tickRate.inverse(), 's');
	if (!counted) draft.formula('capture-lowest', { every, tickRate, lowest: least, full: Rational.int(largest(timer!.width)) });
	draft.formula('capture', { every: Rational.int(most), tickRate, step, highest });
	if (switched && gate) tellGate(draft, wish, served, gate);
	if (!counted && least.compare(lowest) > 0) draft.fault({ code: 'capture-wraps', lowest: least, wish: lowest });
	if (step.compare(wanted) > 0) draft.fault({ code: 'capture-coarse', step, wanted, hz: highest });
	checkService(draft, wish, served);
	derivation.table = bandTable(draft, wish, highest, options, chosen, bands);
	// All on the chosen prescale: what more edges a reading win and lose.
	const curves = offered.map((k) => ({ label: 'every', number: k, points: curve(k, tickRate, counted ? undefined : timer!.width, wish) }));
	const gate100: [number, number][] = gate ? evenly(lowest, wish.highest).map((hz) => [hz, 100 / (hz * gate.toNumber())]) : [];
	derivation.charts = [
		{
			code: 'step',
			series: gate ? [...curves, { label: 'gated', points: gate100 }] : curves,
			range: [lowest.toNumber(), wish.highest.toNumber()]
		}
	];
}

/** Does a count of edges reach the lowest rate? Where overflows are counted any does. */
function reaches(
	{ derivation: { kernel, timer } }: DerivationDraft,
	{ lowest, counted }: CaptureWish,
	{ every, prescale }: Option
): boolean {
	return counted || lowestCaptured(kernel!.div(Rational.int(prescale)), timer!.width, every).compare(lowest) <= 0;
}

/** The fewest edges a reading that keep the step up to a rate, or the counts that are switched through. */
function serve(draft: DerivationDraft, wish: CaptureWish, options: readonly Option[], highest: Hertz): Served {
	const { kernel, timer } = draft.derivation;
	const { wanted, counted } = wish;
	const tickAt = ({ prescale }: Option) => kernel!.div(Rational.int(prescale));
	const keeps = (one: Option) => captureStep(highest, tickAt(one), one.every).compare(wanted) <= 0;
	const able = options.filter((one) => reaches(draft, wish, one));
	// Every edge tells most often; more edges a reading are taken only where they are needed for the step. Where overflows are counted
	// any count reads the lowest rate, but many edges of it take long: then it is switched from the first on.
	const alone = able.find(keeps);
	const first = able[0] ?? options[0];
	const offered = options.map(({ every }) => every);
	const switched = (from: Option) => switchOver(offered, tickAt(from), counted ? undefined : timer!.width, highest, wanted);
	const begins = counted && switched(first) ? first : (alone ?? first);
	const bands = keeps(begins) ? undefined : switched(begins);
	const chosen = keeps(begins) || bands || !counted ? begins : options[options.length - 1];
	const tickRate = tickAt(chosen);
	const most = bands ? Math.max(...bands) : chosen.every;
	return { highest, chosen, tickRate, bands, most, step: captureStep(highest, tickRate, most) };
}

/** Of all prescales that reach and keep the step with one count of edges, the one whose tick is said most easily. */
function rounded(draft: DerivationDraft, wish: CaptureWish, served: Served, last: number): Served {
	const { kernel, timer } = draft.derivation;
	const { chosen, highest, bands } = served;
	if (bands || served.step.compare(wish.wanted) > 0) return served;
	const coarsest = Number(wish.wanted.mul(Rational.int(chosen.every)).mul(kernel!).div(highest).floor());
	const prescale = roundestPrescale(timer!.prescaler, kernel!, chosen.prescale, Math.min(coarsest, last));
	if (prescale === undefined || prescale === chosen.prescale) return served;
	tellRound(draft, prescale);
	const tickRate = kernel!.div(Rational.int(prescale));
	return { ...served, chosen: { ...chosen, prescale }, tickRate, step: captureStep(highest, tickRate, chosen.every) };
}

/** The rate above which a gate is finer than the count of edges in use at the top; never below the range. */
function crossing({ lowest, highest, gate }: CaptureWish, { tickRate, most }: Served, switched: boolean): Hertz {
	if (!switched || !gate) return highest;
	const root = rootOf(crossoverSquared(tickRate, most, gate));
	return root.compare(lowest) < 0 ? lowest : root.compare(highest) < 0 ? root : highest;
}

/** A square root rounded to nine digits. */
function rootOf(square: Rational): Rational {
	const rough = Math.sqrt(square.toNumber());
	const power = 8 - Math.floor(Math.log10(rough));
	const scale = power >= 0 ? Rational.of(10n ** BigInt(power)) : Rational.of(1n, 10n ** BigInt(-power));
	return Rational.of(BigInt(Math.round(rough * 10 ** power))).div(scale);
}

function tellGate(draft: DerivationDraft, { wanted, highest: top }: CaptureWish, { highest, most, tickRate }: Served, gate: Seconds): void {
	draft.formula('crossover', { root: rootOf(crossoverSquared(tickRate, most, gate)), every: Rational.int(most), tickRate, gate });
	if (highest.compare(top) >= 0) return;
	draft.figure('gate-above', highest, 'Hz');
	draft.figure('step-gated', gatedStep(highest, gate), '%');
	const counted = Rational.int(largest(draft.derivation.timer!.width)).div(gate);
	if (counted.compare(top) < 0) draft.fault({ code: 'gate-full', most: counted, wish: top });
	if (gatedStep(highest, gate).compare(wanted) > 0)
		draft.fault({ code: 'gate-coarse', step: gatedStep(highest, gate), wanted, hz: highest, gate: wanted.mul(highest).inverse() });
}

/** How software goes from one way of reading to the next: each is left upwards at `up` and downwards at `down`. */
function switchingOf({ bands, chosen, tickRate, highest }: Served, { wanted, gate }: CaptureWish, gated: boolean): Switching {
	const counts = bands ?? [chosen.every];
	const above = counts.map((every) => highestForStep(wanted, tickRate, every));
	const ways: Switching['ways'] = counts.map((every, i) => ({
		every,
		...((i + 1 < counts.length || gated) && { up: i + 1 < counts.length ? above[i] : highest }),
		...(i > 0 && { down: above[i - 1].mul(HYSTERESIS) })
	}));
	return { ways, ...(gated && gate && { gate: { seconds: gate, down: highest.mul(HYSTERESIS) } }) };
}

function checkService(draft: DerivationDraft, { service, wanted, lowest }: CaptureWish, { highest, most, bands, tickRate }: Served): void {
	const { core } = draft;
	if (!core || service <= 0) return;
	const servedUpTo = (every: number) => Rational.int(every).mul(core).div(Rational.int(service));
	draft.figure('served', servedUpTo(most), 'Hz');
	// Each count has to be served up to where the next is taken up.
	for (const every of bands ?? [most]) {
		const top = every === most ? highest : highestForStep(wanted, tickRate, every);
		if (top.compare(lowest) < 0 || servedUpTo(every).compare(top) >= 0) continue;
		draft.fault({ code: 'capture-service', most: servedUpTo(every), wish: top });
		return;
	}
}

function bandTable(
	{ derivation: { kernel, timer } }: DerivationDraft,
	{ wanted, counted }: CaptureWish,
	highest: Hertz,
	options: readonly Option[],
	chosen: Option,
	bands: number[] | undefined
): AimDerivation['table'] {
	const rows = bands ? options.map(({ every }) => ({ every, prescale: chosen.prescale })) : options;
	return {
		columns: [
			{ name: 'every', unit: '' },
			{ name: 'prescale', unit: '' },
			{ name: 'lowest', unit: 'Hz' },
			{ name: 'highest', unit: 'Hz' },
			bands ? { name: 'down-at', unit: 'Hz' } : { name: 'step-high', unit: '%' }
		],
		rows: rows.map(({ every, prescale }, i) => {
			const rate = kernel!.div(Rational.int(prescale));
			const below = i > 0 ? highestForStep(wanted, rate, rows[i - 1].every).mul(HYSTERESIS) : null;
			const values = [
				Rational.int(every),
				Rational.int(prescale),
				counted ? null : lowestCaptured(rate, timer!.width, every),
				highestForStep(wanted, rate, every),
				bands ? below : captureStep(highest, rate, every)
			];
			return {
				values,
				chosen: bands ? bands.includes(every) : every === chosen.every,
				edit: { locks: { prescale: String(prescale) }, fields: { every: String(every) } }
			};
		})
	};
}

/**
 * The counts of edges that together cover the range on one prescale: each is left upwards where it ceases to keep the
 * step, and the next is left downwards a little below that. undefined when even the largest is too coarse at the top.
 */
function switchOver(
	offered: readonly number[],
	tickRate: Hertz,
	/** undefined: overflows are counted, so that any interval is read. */
	width: number | undefined,
	highest: Hertz,
	wanted: Rational
): number[] | undefined {
	const enough = offered.findIndex((every) => highestForStep(wanted, tickRate, every).compare(highest) >= 0);
	const bands = offered.slice(0, enough + 1);
	const meet = bands.every((every, i) => {
		if (i === 0 || width === undefined) return true;
		return lowestCaptured(tickRate, width, every).compare(highestForStep(wanted, tickRate, bands[i - 1]).mul(HYSTERESIS)) <= 0;
	});
	return enough >= 0 && meet ? bands : undefined;
}

/** Rates over a decade more than the range, on even steps of the logarithm. */
function evenly(lowest: Hertz, highest: Hertz): number[] {
	const [from, to] = [Math.log10(lowest.toNumber()) - 0.5, Math.log10(highest.toNumber()) + 0.5];
	return Array.from({ length: POINTS + 1 }, (_, i) => 10 ** (from + (i * (to - from)) / POINTS));
}

/** Relative step in percent; nothing below the lowest that fits the counter. */
function curve(every: number, tickRate: Hertz, width: number | undefined, { lowest, highest }: CaptureWish): [number, number][] {
	const least = width === undefined ? 0 : lowestCaptured(tickRate, width, every).toNumber();
	const scale = every * tickRate.toNumber();
	return evenly(lowest, highest)
		.filter((hz) => hz >= least)
		.map((hz) => [hz, (100 * hz) / scale]);
}
