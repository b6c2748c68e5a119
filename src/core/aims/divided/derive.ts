import { ppmError, Rational, type Seconds } from '../../exact/index.js';
import { splitCount } from '../../solve/index.js';
import { readRate, readSpan, readTolerance, readWhole } from '../common/fields.js';
import type { DividedAim } from './schema.js';
import { DerivationDraft } from '../common/draft.js';
import type { AimContext } from '../common/context.js';
import type { AimDerivation } from '../common/derivation.js';
import { makeTick } from '../tick/derive.js';

const MOST_FACTORS = 4;

/** Pulses counted out of one tick by software (timers.md 9): the count in factors, each width in whole ticks, and the load. */
export function deriveDivided(aim: DividedAim, context: AimContext): AimDerivation<DividedAim> {
	const draft = new DerivationDraft(aim, context);
	const { derivation } = draft;
	const rate = draft.rate('every', aim.every);
	const tolerance = draft.take('tolerance', readTolerance(aim.tolerance, rate));
	const service = draft.cycles('service', aim.service);
	const frame = draft.take('frame', readRate(aim.frame))?.inverse();
	const frameTolerance = draft.take('frameTolerance', readTolerance(aim.frameTolerance, frame?.inverse()));
	const factor = draft.take('factor', readWhole(aim.factor, 1));
	const widths = aim.outputs.map(({ width }, i) => draft.take(`outputs.${i}.width`, readSpan(width)));
	if (!derivation.timer || !derivation.kernel || !rate || service === undefined) return derivation;
	const made = makeTick(draft, aim, { rate, tolerance, service });
	if (!made) return derivation;
	derivation.use = { ...(derivation.use ?? { aim, prescale: 1 }), kind: 'alone' };
	if (frame && factor !== undefined) tellFrame(draft, frame, frameTolerance, factor, made.period);
	tellWidths(draft, aim, widths, made.period, frame);
	return derivation;
}

/** How many ticks a frame has, as factors that each fit a software counter: as few as come within the tolerance. */
function tellFrame(draft: DerivationDraft, frame: Seconds, tolerance: Rational | undefined, factor: number, tick: Seconds): void {
	const wanted = frame.div(tick).roundHalfUp();
	const count = Number(wanted);
	if (wanted > BigInt(factor) ** BigInt(MOST_FACTORS) || wanted >= 2n ** 40n) {
		draft.fault({ code: 'factors-too-many', count, factor });
		return;
	}
	const off = (product: number) => ppmError(tick.mul(Rational.int(product)), frame);
	const within = (product: number) => tolerance !== undefined && off(product).abs().compare(tolerance) <= 0;
	const splits = [1, 2, 3, 4].filter((n) => factor ** n < 2 ** 53).map((n) => splitCount(Math.max(1, count), factor, n));
	const split =
		splits.find(({ product }) => within(product)) ??
		splits.reduce((a, b) => (off(b.product).abs().compare(off(a.product).abs()) < 0 ? b : a));
	const seconds = tick.mul(Rational.int(split.product));
	draft.derivation.strip.push({ name: 'factors', value: split.product, list: split.factors });
	draft.wish('frame', { value: frame, ...(tolerance && { ppm: tolerance }) });
	draft.figure('frame', seconds, 's');
	draft.figure('frame-error', off(split.product), 'ppm');
	draft.formula('split', { frame, tick, count: Rational.int(count), product: Rational.int(split.product) });
	if (tolerance && !within(split.product)) draft.fault({ code: 'frame-outside', ppm: off(split.product), tolerance, seconds, wish: frame });
}

/** Each output's width in whole ticks, and what that rounding costs. */
function tellWidths(
	draft: DerivationDraft,
	aim: DividedAim,
	widths: (Seconds | undefined)[],
	tick: Seconds,
	frame: Seconds | undefined
): void {
	const counted: NonNullable<AimDerivation['run']['counted']> = [];
	const rows = aim.outputs.flatMap(({ name }, i) => {
		const width = widths[i];
		if (!width) return [];
		const ticks = width.div(tick).roundHalfUp();
		const real = tick.mul(Rational.of(ticks));
		if (frame && width.compare(frame) > 0) draft.fault({ code: 'width-over-frame', output: name, width, frame });
		else if (ticks === 0n && width.sign > 0) draft.fault({ code: 'width-below-tick', output: name, width, tick });
		counted.push({ name, ticks: Number(ticks) });
		return [{ values: [name, width, Rational.of(ticks), real, real.sub(width)], chosen: false }];
	});
	draft.derivation.run.counted = counted;
	// The pulses' table takes the place of the tick's settings; their chart stays.
	draft.derivation.table = {
		columns: [
			{ name: 'output', unit: '' },
			{ name: 'wished-width', unit: 's' },
			{ name: 'ticks', unit: '' },
			{ name: 'width', unit: 's' },
			{ name: 'off-by', unit: 's' }
		],
		rows
	};
}
