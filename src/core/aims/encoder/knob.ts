import { Rational } from '../../exact/index.js';
import { activeTicks, nearestActive } from '../../timer/index.js';
import type { SystemBuilder } from '../common/build.js';
import type { AimDerivation, AimTable, Knob, TableCell } from '../common/derivation.js';
import type { DerivationDraft } from '../common/draft.js';
import { readDuty, wantedTicks } from '../common/fields.js';
import type { PulseSetting } from '../common/pulse.js';
import { relation, type Relation } from '../common/relations.js';
import type { EncoderAim } from './schema.js';

const MAP_ROWS = 8;

/** What a count asks of a driven pulse, and what it gets. */
export function knobAt(
	{ low, high, whole }: Knob,
	pulse: PulseSetting,
	count: number
): { wished: Rational; compare: number; duty: Rational } {
	const wanted = low.add(high.sub(low).mul(Rational.ratio(count, whole)));
	const { compare } = nearestActive(pulse.counting, pulse.reload, pulse.rule, wanted)!;
	const active = activeTicks(pulse.counting, pulse.reload, pulse.rule, compare)!;
	const ticks = Rational.int(pulse.ticks);
	return { wished: wanted.div(ticks), compare, duty: Rational.int(active).div(ticks) };
}

/** A count that sets another aim's duty: the compare of every count, what one count changes, and what rounding costs. `last`: the last count, `whole`: those of the range's end. */
export function tellKnob(draft: DerivationDraft, aim: EncoderAim, last: number, whole: number): void {
	const { derivation, context } = draft;
	const low = draft.take('low', readDuty(aim.low));
	const high = draft.take('high', readDuty(aim.high));
	const driven = context.derivationOf(aim.drives);
	const pulse = driven?.pulse;
	const channel = driven && context.channelsOf(driven.aim)[0];
	if (!driven || !pulse || !channel) {
		draft.fault({ code: 'knob-nothing', ...(driven && { other: driven.aim.name }) });
		return;
	}
	if (!low || !high) return;
	const ticksOf = (duty: NonNullable<typeof low>) => wantedTicks(duty, pulse.tickRate, pulse.ticks);
	const knob: Knob = { aim: aim.drives, channel, low: ticksOf(low), high: ticksOf(high), whole };
	for (const wanted of [knob.low, knob.high])
		if (wanted.sign < 0 || wanted.compare(Rational.int(pulse.ticks)) > 0) {
			draft.fault({ code: 'duty-outside', wanted: wanted.div(Rational.int(pulse.ticks)) });
			return;
		}
	derivation.run.knob = knob;
	const perCount = knob.high.sub(knob.low).div(Rational.int(whole));
	draft.figure('active-per-count', perCount, 'ticks');
	draft.figure('duty-per-count', perCount.div(Rational.int(pulse.ticks)), '%');
	draft.figure('rounding-most', Rational.ratio(pulse.step, 2 * pulse.ticks), '%');
	draft.formula('knob', { low: knob.low, high: knob.high, whole: Rational.int(whole), perCount });
	// Fewer steps than counts: some counts change nothing.
	const steps = perCount.abs().div(Rational.int(pulse.step));
	if (steps.compare(Rational.one) < 0) draft.warn({ code: 'knob-idle', counts: last + 1, steps: steps.mul(Rational.int(whole)) });
	derivation.table = knobTable(knob, pulse, last);
	const points = derivation.table.rows.map(({ values }): [number, number] => [
		(values[0] as Rational).toNumber(),
		(values[3] as Rational).toNumber() * 100
	]);
	derivation.charts = [{ code: 'map', unit: '%', series: [{ label: 'mapped', points }] }];
}

function knobTable(knob: Knob, pulse: PulseSetting, last: number): AimTable {
	const row = (count: number): TableCell[] => {
		const { wished, compare, duty } = knobAt(knob, pulse, count);
		return [Rational.int(count), wished, Rational.int(compare), duty, duty.sub(wished)];
	};
	const counts = Array.from({ length: MAP_ROWS + 1 }, (_, i) => Math.min(last, Math.round((i * knob.whole) / MAP_ROWS)));
	return {
		columns: [
			{ name: 'count', unit: '' },
			{ name: 'wished-duty', unit: '%' },
			{ name: 'compare', unit: '' },
			{ name: 'duty', unit: '%' },
			{ name: 'rounding', unit: '%' }
		],
		rows: [...new Set(counts)].map((count) => ({ values: row(count), chosen: false })),
		ask: { last, row }
	};
}

/** Software writes the compare of each count as it is reached (timers.md 16). */
export function turnKnob(
	{ writes, derivationOf }: SystemBuilder,
	{ run }: AimDerivation<EncoderAim>,
	positions: readonly (readonly [number, number])[]
): void {
	const { knob } = run;
	const driven = knob && derivationOf(knob.aim);
	if (!knob || !driven?.pulse || !driven.timer) return;
	let before: number | undefined;
	for (const [at, count] of positions) {
		const { compare } = knobAt(knob, driven.pulse, count);
		if (compare !== before) writes.push({ at, timer: driven.timer.id, register: `compare:${knob.channel}`, value: compare });
		before = compare;
	}
}

/** The count against the duty that it sets. */
export function readCounts({ run }: AimDerivation<EncoderAim>, other: (id: string) => AimDerivation | undefined): Relation[] {
	const { knob } = run;
	const pulse = knob && other(knob.aim)?.pulse;
	if (!knob || !pulse) return [];
	const whole = Rational.int(knob.whole);
	const inside = (count: Rational) => count.isInteger && count.sign >= 0 && count.compare(whole) <= 0;
	return [
		relation(
			{ of: 'count', unit: '' },
			{ of: 'duty', unit: '%' },
			{
				stretch: 'ratio',
				low: Rational.zero,
				high: whole,
				at: (count) => {
					const duty = inside(count) ? knobAt(knob, pulse, count.toNumber()).duty : undefined;
					return duty && [duty, duty];
				}
			}
		)
	];
}
