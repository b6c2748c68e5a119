import { Rational, readQuantity, type Hertz, type Quantity } from '../../exact/index.js';
import type { FilterProfile } from '../../part/index.js';
import { encoderRange, largest } from '../../timer/index.js';
import { readRate, readTurns, readValue, readWhole } from '../common/fields.js';
import type { EncoderAim } from './schema.js';
import { tellKnob } from './knob.js';
import { candidateChart } from '../common/chart.js';
import { chosenFilter, checkFilterWindow, windowOf } from '../common/filter.js';
import { DerivationDraft } from '../common/draft.js';
import type { AimContext } from '../common/context.js';
import type { AimDerivation, AimTable } from '../common/derivation.js';

const MAP_ROWS = 8;

/** A quadrature encoder (timers.md 8): counts, range, start, mapping, and whether its filter lets the greatest speed through. */
export function deriveEncoder(aim: EncoderAim, context: AimContext): AimDerivation<EncoderAim> {
	const draft = new DerivationDraft(aim, context);
	const { derivation } = draft;
	const cycles = draft.take('cycles', readWhole(aim.cycles, 1));
	const turns = draft.take('range', readTurns(aim.range, cycles === undefined ? undefined : cycles * Number(aim.times)));
	const speed = draft.take('speed', readRate(aim.speed));
	const mapped =
		aim.drives !== '' || (aim.low.trim() === '' && aim.high.trim() === '')
			? undefined
			: ([draft.take('low', readValue(aim.low)), draft.take('high', readValue(aim.high))] as const);
	const { timer, kernel } = derivation;
	if (!timer || !kernel) return derivation;
	const times = Number(aim.times) as 1 | 2 | 4;
	if (!timer.encoder?.times.includes(times)) {
		draft.fault({ code: 'cannot-job', timer: timer.name, kind: 'encoder' });
		return derivation;
	}
	const filters = timer.encoder.filters ?? [];
	const filter = chosenFilter(draft, aim, filters);
	if (cycles === undefined || !turns) return derivation;
	derivation.use = { aim, kind: 'alone', prescale: 1 };

	const perTurn = encoderRange(cycles, times, 1).counts;
	const counts = turns.mul(Rational.int(perTurn));
	derivation.strip = [{ name: 'times', value: times }];
	draft.figure('per-turn', Rational.int(perTurn), 'counts');
	draft.figure('counts', counts, 'counts');
	draft.figure('degrees', Rational.ratio(360, perTurn), 'deg');
	draft.formula('encoder', { cycles: Rational.int(cycles), times: Rational.int(times), turns, counts });
	tellRange(draft, aim, counts, perTurn, mapped);
	if (aim.ends === 'clamp') draft.warn({ code: 'software-clamp' });
	if (speed) checkSpeed(draft, speed, 4 * cycles, filter, filters);
	return derivation;
}

/** The last count as a register, the first one's place, and what the counts stand for. */
function tellRange(
	draft: DerivationDraft,
	aim: EncoderAim,
	counts: Rational,
	perTurn: number,
	mapped: readonly (Quantity | undefined)[] | undefined
): void {
	const { width } = draft.derivation.timer!;
	const limit = largest(width) + 1;
	const held = draft.held('reload', 1, largest(width), width);
	if (!counts.isInteger && held === undefined) draft.warn({ code: 'counts-not-whole', counts });
	else if (counts.compare(Rational.int(limit)) > 0 && held === undefined)
		draft.fault({ code: 'counts-do-not-fit', counts: counts.toNumber(), limit });
	else if (held !== null) {
		const last = held ?? Number(counts.num) - 1;
		if (held !== undefined && !Rational.int(held + 1).equals(counts))
			draft.fault({ code: 'locks-conflict', links: ['reload'], got: Rational.int(held + 1), wish: counts, unit: 'counts' });
		draft.derivation.strip.push({ name: 'reload', value: last, holds: true, register: { value: last, width } });
		tellStart(draft, aim.start, last, perTurn);
		// A range that wraps meets its first count again after the last.
		const whole = aim.ends === 'wrap' ? last + 1 : last;
		if (mapped) tellMap(draft, mapped, last, whole);
		else if (aim.drives !== '') tellKnob(draft, aim, last, whole);
	}
}

/** The count at first: "100", "90 deg" or "1/4 turns". */
function tellStart(draft: DerivationDraft, text: string, last: number, perTurn: number): void {
	const read = readQuantity(text);
	const start =
		read.ok && read.quantity.dimension === 'angle'
			? Number(read.quantity.value.mul(Rational.int(perTurn)).roundHalfUp())
			: draft.take('start', readWhole(text, 0));
	if (start === undefined) return;
	if (start > last || start < 0) draft.fault({ code: 'start-outside', start, last });
	draft.figure('start', Rational.int(start), 'counts');
}

/** The mapping of the counts onto another scale, from end to end. */
function tellMap(draft: DerivationDraft, [low, high]: readonly (Quantity | undefined)[], last: number, whole: number): void {
	if (!low || !high) return;
	if (low.dimension !== high.dimension) {
		draft.fault({ code: 'units-differ' });
		return;
	}
	const unit = MAP_UNIT[low.dimension] ?? '';
	const scale = low.dimension === 'angle' ? Rational.int(360) : Rational.one;
	const span = high.value.sub(low.value);
	const at = (count: number) => low.value.add(span.mul(Rational.ratio(count, whole))).mul(scale);
	draft.figure('map-step', span.div(Rational.int(whole)).abs().mul(scale), unit);
	draft.formula('map', { low: low.value.mul(scale), high: high.value.mul(scale), whole: Rational.int(whole) });
	const counts = Array.from({ length: MAP_ROWS + 1 }, (_, i) => Math.min(last, Math.round((i * whole) / MAP_ROWS)));
	draft.derivation.table = {
		columns: [
			{ name: 'count', unit: '' },
			{ name: 'mapped', unit }
		],
		rows: [...new Set(counts)].map((count) => ({ values: [Rational.int(count), at(count)], chosen: false })),
		ask: { last, row: (count) => [Rational.int(count), at(count)] }
	};
	const drawn = (value: Rational) => value.toNumber() * (unit === '%' ? 100 : 1);
	draft.derivation.charts = [
		{
			code: 'map',
			unit,
			series: [{ label: 'mapped', points: [...new Set(counts)].map((count) => [count, drawn(at(count))]) }]
		}
	];
}

const MAP_UNIT: Partial<Record<Quantity['dimension'], string>> = {
	frequency: 'Hz',
	time: 's',
	ratio: '%',
	angle: 'deg',
	ticks: 'ticks',
	bits: 'bits'
};

/** Four edges a cycle in all, whatever the counter makes of them: each must outlast the filter. */
function checkSpeed(
	draft: DerivationDraft,
	speed: Hertz,
	edges: number,
	filter: FilterProfile | undefined,
	filters: readonly FilterProfile[]
): void {
	const { derivation } = draft;
	const fastest = (one: FilterProfile | undefined) => windowOf(one, derivation.kernel!).mul(Rational.int(edges)).inverse();
	const spacing = speed.mul(Rational.int(edges)).inverse();
	draft.figure('edge-spacing', spacing, 's');
	checkFilterWindow(draft, filter, filters, spacing);
	draft.figure('fastest', fastest(filter), 'turns/s');
	if (filters.length === 0) return;
	const table: AimTable = {
		columns: [
			{ name: 'filter', unit: '' },
			{ name: 'filter-window', unit: 's' },
			{ name: 'fastest', unit: 'turns/s' }
		],
		rows: filters.map((one, i) => ({
			values: [Rational.int(i), windowOf(one, derivation.kernel!), fastest(one)],
			chosen: one === filter,
			edit: { fields: { filter: String(i) } }
		}))
	};
	derivation.table ??= table;
	derivation.charts = [...(derivation.charts ?? []), { ...candidateChart('filter', table, 1, 2), wanted: speed.toNumber() }];
}
