import { Rational, type Hertz, type Seconds } from '../../exact/index.js';
import type { ChannelProfile } from '../../part/index.js';
import { firstRatio, ratioTable } from '../../solve/index.js';
import { captureStep, crossoverSquared, gatedStep, highestForStep, largest, lowestCaptured } from '../../timer/index.js';
import { readRate, readTime, readTolerance, readWhole } from '../common/fields.js';
import type { CaptureAim } from './schema.js';
import { checkChannelFilter } from '../common/filter.js';
import { DerivationDraft } from '../common/draft.js';
import type { AimContext } from '../common/context.js';
import type { AimDerivation } from '../common/derivation.js';
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

function captured(draft: DerivationDraft, wish: CaptureWish, channel: ChannelProfile, switched: boolean): void {
	const { derivation, core, context } = draft;
	const { kernel, timer, aim } = derivation;
	const { lowest, wanted, counted, gate } = wish;
	const prescale = context.owner ? context.owner.prescale : draft.heldPrescale();
	if (prescale === null) return;
	if (context.owner) derivation.sharedWith = context.owner.aim;
	const ratios: ArrayLike<number> = prescale === undefined ? ratioTable(timer!.prescaler).ratios : [prescale];
	const offered = wish.every === undefined ? [...channel.capture!.every].sort((a, b) => a - b) : [wish.every];
	const tickAt = (ratio: number) => kernel!.div(Rational.int(ratio));
	const reaches = (every: number, ratio: number) => counted || lowestCaptured(tickAt(ratio), timer!.width, every).compare(lowest) <= 0;
	const options = offered.map((every) => ({
		every,
		prescale: firstRatio(ratios, (ratio) => reaches(every, ratio)) ?? ratios[ratios.length - 1]
	}));
	// Above the cross-over the gate is finer: capture has to keep its step up to there only.
	const highest = switched ? upTo(wish, kernel!, options) : wish.highest;
	const keeps = (every: number, ratio: number) => captureStep(highest, tickAt(ratio), every).compare(wanted) <= 0;
	// Every edge tells most often; more edges a reading are taken only where they are needed for the step.
	const chosen =
		options.find((one) => reaches(one.every, one.prescale) && keeps(one.every, one.prescale)) ??
		options.find((one) => reaches(one.every, one.prescale)) ??
		options[0];
	const tickRate = tickAt(chosen.prescale);
	const bands = keeps(chosen.every, chosen.prescale) || counted ? undefined : switchOver(offered, tickRate, timer!.width, highest, wanted);
	const every = Rational.int(chosen.every);
	derivation.use = { aim, kind: 'free', prescale: chosen.prescale };
	derivation.strip = [prescaleLink(timer!, chosen.prescale), { name: 'every', value: chosen.every }];
	const least = lowestCaptured(tickRate, timer!.width, chosen.every);
	// At the top of the range the last band's count of edges is in use.
	const most = bands ? Math.max(...bands) : chosen.every;
	const step = captureStep(highest, tickRate, most);
	draft.figure('lowest', least, 'Hz');
	draft.figure('step-low', captureStep(lowest, tickRate, chosen.every), '%');
	draft.figure('step-high', step, '%');
	draft.figure('reading-low', every.div(lowest), 's');
	draft.figure('tick', tickRate.inverse(), 's');
	draft.formula('capture', { every, tickRate, lowest: least, step, highest });
	if (switched && gate) {
		const square = crossoverSquared(tickRate, most, gate);
		draft.formula('crossover', { square, every: Rational.int(most), tickRate, gate });
		draft.figure('step-gated', gatedStep(wish.highest, gate), '%');
		if (gatedStep(highest, gate).compare(wanted) > 0 && highest.compare(wish.highest) < 0)
			draft.fault({ code: 'gate-coarse', step: gatedStep(highest, gate), wanted, hz: highest, gate: wanted.mul(highest).inverse() });
	}
	if (!counted && least.compare(lowest) > 0) draft.fault({ code: 'capture-wraps', lowest: least, wish: lowest });
	if (step.compare(wanted) > 0) draft.fault({ code: 'capture-coarse', step, wanted, hz: highest });
	if (core && wish.service > 0) {
		const served = Rational.int(most).mul(core).div(Rational.int(wish.service));
		draft.figure('served', served, 'Hz');
		if (served.compare(highest) < 0) draft.fault({ code: 'capture-service', most: served, wish: highest });
	}
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

/** The rate up to which capture serves when a gate takes over above: rounded to a hertz where the root is not whole. */
function upTo({ highest, gate }: CaptureWish, kernel: Hertz, options: readonly { every: number; prescale: number }[]): Hertz {
	const { every, prescale } = options[options.length - 1];
	const square = crossoverSquared(kernel.div(Rational.int(prescale)), every, gate!);
	const root = Rational.int(Math.round(Math.sqrt(square.toNumber())));
	return root.compare(highest) < 0 ? root : highest;
}

function bandTable(
	{ derivation: { kernel, timer } }: DerivationDraft,
	{ wanted, counted }: CaptureWish,
	highest: Hertz,
	options: readonly { every: number; prescale: number }[],
	chosen: { every: number; prescale: number },
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
function switchOver(offered: readonly number[], tickRate: Hertz, width: number, highest: Hertz, wanted: Rational): number[] | undefined {
	const enough = offered.findIndex((every) => highestForStep(wanted, tickRate, every).compare(highest) >= 0);
	const bands = offered.slice(0, enough + 1);
	const meet = bands.every((every, i) => {
		if (i === 0) return true;
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
