import { nearestActive, periodTicks } from '../../timer/index.js';
import { Rational } from '../../exact/index.js';
import type { AimDerivation } from '../../aims/index.js';
import { largest } from '../../timer/index.js';
import { rewritten, type Changed, type Mistake } from '../change.js';
import type { Group } from '../scene.js';

type Pulse = NonNullable<AimDerivation['pulse']>;

/** Pulses of a group with a compare of their own. */
function pulses({ aims, system }: Group): { one: AimDerivation; pulse: Pulse; channel: string }[] {
	return aims.flatMap((one) => {
		const channel = (one.aim as { channel?: unknown }).channel;
		const known = typeof channel === 'string' && system.timers.some(({ id, sequences }) => id === one.timer?.id && !sequences);
		return one.pulse && known ? [{ one, pulse: one.pulse, channel }] : [];
	});
}

function compared(group: Group, { one, pulse, channel }: ReturnType<typeof pulses>[number], compare: number | undefined): Changed[] {
	const timer = group.system.timers.find(({ id }) => id === one.timer!.id)!;
	if (compare === undefined || compare === pulse.compare || compare > largest(timer.width)) return [];
	const next = rewritten(group.system, timer, { name: 'compare', channel }, () => compare);
	return next ? [{ where: { timer: timer.id, channel, what: 'compare', planned: pulse.compare, found: compare }, system: next }] : [];
}

const compareFor = ({ counting, reload, rule }: Pulse, active: Rational) => nearestActive(counting, reload, rule, active)?.compare;

/** A third of the period worked out as 33 %: the share cut or rounded to whole percents. */
const wholePercents: Mistake = {
	code: 'third-as-33-percent',
	usual: 22,
	of: (group) => [
		...lagPercents(group),
		...pulses(group).flatMap((at) => {
			const share = at.pulse.wantedTicks.div(Rational.int(at.pulse.ticks)).mul(Rational.int(100));
			if (share.isInteger) return [];
			const percents = [share.floor(), share.floor() + 1n];
			return percents.flatMap((percent) =>
				compared(group, at, compareFor(at.pulse, Rational.of(percent, 100n).mul(Rational.int(at.pulse.ticks))))
			);
		})
	]
};

/** The same of a follower's lag: a share of its leader's period at whose place that one's compare starts it. */
function lagPercents(group: Group): Changed[] {
	return group.system.timers.flatMap((timer) =>
		timer.channels
			.filter(({ output }) => output.model === 'none')
			.flatMap(({ id, compare }) => {
				const ticks = timer.mode === 'updown' ? 2 * timer.reload : timer.reload + 1;
				// The cycles from trigger to effect were taken off the compare.
				const early = latencyBehind(group, timer.id, id);
				const share = Rational.ratio(compare + early, ticks).mul(Rational.int(100));
				if (share.isInteger) return [];
				return [share.floor(), share.floor() + 1n].flatMap((percent): Changed[] => {
					const found = Number(Rational.of(percent, 100n).mul(Rational.int(ticks)).roundHalfUp()) - early;
					const next = rewritten(group.system, timer, { name: 'compare', channel: id }, () => found);
					return next ? [{ where: { timer: timer.id, channel: id, what: 'compare', planned: compare, found }, system: next }] : [];
				});
			})
	);
}

/** Ticks by which a match comes earlier than what it triggers, in ticks of a timer that follows at the same pace. */
function latencyBehind({ system }: Group, timer: string, channel: string): number {
	const follower = system.timers.find(
		({ trigger }) => trigger && 'timer' in trigger.from && trigger.from.timer === timer && trigger.from.event === `match:${channel}`
	);
	const leader = system.timers.find(({ id }) => id === timer);
	if (!follower?.trigger || !leader) return 0;
	return Math.round((follower.trigger.latency * follower.kernel) / (leader.kernel * leader.prescale));
}

/** Another whole percent than was wished, as the pin shows it: a digit mistyped, or worked out by hand. */
const mistyped: Mistake = {
	code: 'duty-mistyped',
	usual: 60,
	of: (group) =>
		pulses(group).flatMap((at) => {
			const own = group.lines.filter(({ seen }) => seen.witness.aim === at.one.aim.id);
			const shares = own.flatMap(({ seen: { measures, reading } }) => {
				const duty = reading?.of === 'duty' ? reading.value : measures.duty?.mean.toNumber();
				return duty === undefined ? [] : [Math.round(100 * (at.pulse.activeLow ? 1 - duty : duty))];
			});
			return [...new Set(shares)].flatMap((percent) => {
				const compare = compareFor(at.pulse, Rational.ratio(percent, 100).mul(Rational.int(at.pulse.ticks)));
				return compared(group, at, compare).map((one) => ({ ...one, where: { ...one.where, found: `${compare} (${percent} %)` } }));
			});
		})
};

/** The compare was worked out for another period: for the whole width, the reload of another timer, or percent for counts. */
const notRescaled: Mistake = {
	code: 'compare-not-rescaled',
	usual: 23,
	of: (group, scene) => [
		...pulses(group).flatMap((at) => {
			const { pulse } = at;
			const share = pulse.wantedTicks.div(Rational.int(pulse.ticks));
			const wholes = [100, 128, 255, 256, 1000, 1023, 1024, 4096, 65_535, 65_536, ...scene.timers.map(({ reload }) => reload + 1)];
			return [...new Set(wholes)]
				.filter((whole) => whole !== pulse.ticks)
				.flatMap((whole) => compared(group, at, Number(share.mul(Rational.int(whole)).roundHalfUp())));
		}),
		...keptRows(group)
	]
};

/** Rows that set the period anew and leave the compare as it was. */
function keptRows({ system }: Group): Changed[] {
	return system.timers.flatMap((timer): Changed[] => {
		const moving = timer.sequences?.some(({ rows }) => rows.some(({ reload, prescale }) => reload !== undefined || prescale !== undefined));
		const writes = system.writes.some(({ timer: id, register }) => id === timer.id && register === 'reload');
		if (!moving && !writes) return [];
		const sequences = timer.sequences?.map((one) => ({
			...one,
			rows: one.rows.map((row, i) => (i === 0 ? row : { ...row, compare: {} }))
		}));
		const kept = system.writes.filter(({ timer: id, register }) => id !== timer.id || !register.startsWith('compare:'));
		const timers = system.timers.map((other) => (other === timer ? { ...timer, ...(sequences && { sequences }) } : other));
		return [
			{ where: { timer: timer.id, what: 'compare', planned: 'rescaled', found: 'kept' }, system: { ...system, timers, writes: kept } }
		];
	});
}

/** The tick rate, and not the pulse rate, was made what was wished. */
const tickRate: Mistake = {
	code: 'tick-rate-taken',
	usual: 29,
	of: (group) =>
		group.aims.flatMap(({ pulse, timer, strip, run }): Changed[] => {
			const sim = group.system.timers.find(({ id }) => id === timer?.id);
			if (!sim) return [];
			const ticks = pulse
				? periodTicks(pulse.counting, pulse.reload)
				: run.counted
					? strip.find(({ name }) => name === 'factors')?.value
					: undefined;
			if (!ticks) return [];
			const times = (factor: number): Changed[] => {
				const next = rewritten(group.system, sim, { name: 'prescale' }, (value) => Math.round(value * factor));
				return next
					? [{ where: { timer: sim.id, what: 'prescale', planned: sim.prescale, found: sim.prescale * factor }, system: next }]
					: [];
			};
			return times(ticks);
		})
};

export const dutyMistakes: Mistake[] = [wholePercents, notRescaled, tickRate, mistyped];
