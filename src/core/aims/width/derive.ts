import { Rational, type Hertz } from '../../exact/index.js';
import { firstRatio, ratioTable } from '../../solve/index.js';
import { largest } from '../../timer/index.js';
import { readTime, readTolerance } from '../common/fields.js';
import type { WidthAim } from './schema.js';
import { candidateChart, prescaleTable } from '../common/chart.js';
import { roundestPrescale, tellRound } from '../common/roundTick.js';
import { checkChannelFilter } from '../common/filter.js';
import { DerivationDraft } from '../common/draft.js';
import type { AimContext } from '../common/context.js';
import type { AimDerivation } from '../common/derivation.js';
import { prescaleLink } from '../common/period.js';

const RANGE = [
	{ name: 'finest', unit: 's' },
	{ name: 'step-short', unit: '%' },
	{ name: 'longest', unit: 's' }
];

/** A pulse's width by capture of one edge, then the other (timers.md 8): prescale, the window in ticks, and what software can serve. */
export function deriveWidth(aim: WidthAim, context: AimContext): AimDerivation<WidthAim> {
	const draft = new DerivationDraft(aim, context);
	const { derivation } = draft;
	const shortest = draft.take('shortest', readTime(aim.shortest));
	const longest = draft.take('longest', readTime(aim.longest));
	const wanted = draft.take('step', readTolerance(aim.step, undefined))?.div(Rational.int(1_000_000));
	const service = draft.cycles('service', aim.service);
	const each = aim.each.trim() === '' ? undefined : draft.take('each', readTime(aim.each));
	const { timer, kernel } = derivation;
	if (!timer || !kernel) return derivation;
	const channel = timer.channels.find((c) => c.id === aim.channel);
	if (!channel?.capture || !channel.capture.edges.some((edge) => edge !== 'rise')) {
		draft.fault({ code: 'place-missing', what: aim.channel, timer: timer.name });
		return derivation;
	}
	if (!shortest || !longest || !wanted || service === undefined) return derivation;
	if (shortest.compare(longest) > 0) {
		draft.fault({ code: 'range-reversed' });
		return derivation;
	}
	const prescale = context.owner ? context.owner.prescale : draft.heldPrescale();
	if (prescale === null) return derivation;
	if (context.owner) derivation.sharedWith = context.owner.aim;
	const { ratios } = ratioTable(timer.prescaler);
	const counted = aim.overflows === 'counted';
	const span = (ratio: number) =>
		Rational.int(ratio)
			.mul(Rational.int(largest(timer.width)))
			.div(kernel);
	const finest = counted ? ratios[0] : (firstRatio(ratios, (ratio) => span(ratio).compare(longest) >= 0) ?? ratios[ratios.length - 1]);
	// Of all that reach the longest and keep the step, the tick that is said most easily.
	const coarsest = Number(wanted.mul(shortest).mul(kernel).floor());
	const round =
		prescale === undefined ? roundestPrescale(timer.prescaler, kernel, finest, Math.min(coarsest, ratios[ratios.length - 1])) : undefined;
	const chosen = prescale ?? round ?? finest;
	if (round !== undefined && round !== finest) tellRound(draft, round);
	const tickRate: Hertz = kernel.div(Rational.int(chosen));
	const step = shortest.mul(tickRate).inverse();
	derivation.use = { aim, kind: 'free', prescale: chosen };
	derivation.strip = [prescaleLink(timer, chosen)];
	draft.figure('tick', tickRate.inverse(), 's');
	draft.figure('step-short', step, '%');
	if (!counted) draft.figure('longest', span(chosen), 's');
	// The first tick that lies wholly within the window, and the last.
	const [from, to] = [-shortest.mul(tickRate).neg().floor(), longest.mul(tickRate).floor()];
	draft.figure('accept-from', Rational.of(from), 'ticks');
	draft.figure('accept-to', Rational.of(to), 'ticks');
	draft.formula('width', { tickRate, shortest, longest, from: Rational.of(from), to: Rational.of(to) });
	if (each) {
		draft.figure('scale-step', tickRate.mul(each).inverse(), aim.unit);
		draft.figure('scale-from', shortest.div(each), aim.unit);
		draft.figure('scale-to', longest.div(each), aim.unit);
	}
	derivation.table = prescaleTable(ratios, chosen, RANGE, (ratio) => {
		const tick = Rational.int(ratio).div(kernel);
		return [tick, tick.div(shortest), counted ? null : span(ratio)];
	});
	if (!counted) derivation.charts = [{ ...candidateChart('range', derivation.table, 1, 3), wanted: longest.toNumber() }];
	if (!counted && span(chosen).compare(longest) < 0) draft.fault({ code: 'width-wraps', longest: span(chosen), wish: longest });
	if (step.compare(wanted) > 0) draft.fault({ code: 'width-coarse', step, wanted });
	checkService(draft, channel.capture.edges.includes('both'), service, shortest);
	checkChannelFilter(draft, aim, channel, shortest);
	return derivation;
}

/** Where the channel cannot capture both edges by itself, software must turn it round before the second comes. */
function checkService(draft: DerivationDraft, both: boolean, service: number, shortest: Rational): void {
	const least = both ? draft.derivation.kernel!.inverse() : draft.time(service);
	draft.figure('shortest-served', least, 's');
	if (least.compare(shortest) > 0) draft.fault({ code: 'width-service', shortest: least, wish: shortest });
}
