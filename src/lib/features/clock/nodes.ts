import { Rational, exactText } from '../../../core/exact/index.js';
import {
	feedersOf,
	nearestFactor,
	resetSetting,
	stepFactor,
	timersOn,
	type ClockNodeProfile,
	type ClockSetting,
	type PartProfile
} from '../../../core/part/index.js';
import type { Aim } from '../../../core/aims/index.js';
import type { Plan, PlanClocks } from '../../../core/plan/index.js';

/** Aims whose timer takes its clock from a node, or from one of its followers. */
export function aimsOn(plan: Plan, nodes: ReadonlySet<string>): Aim[] {
	const timers = new Set(plan.part.timers.filter((timer) => nodes.has(timer.kernel)).map((timer) => timer.id));
	return plan.aims.filter((aim) => timers.has(aim.timer));
}

/** Aims by the node that is their timer's kernel clock. */
export function aimsByKernel(plan: Plan): Map<string, Aim[]> {
	const found = new Map<string, Aim[]>();
	for (const aim of plan.aims) {
		const kernel = plan.part.timers.find((timer) => timer.id === aim.timer)?.kernel;
		if (kernel !== undefined) found.set(kernel, [...(found.get(kernel) ?? []), aim]);
	}
	return found;
}

/** What a node stands at: as typed if that makes sense, else as at reset. */
export function settingOf(clocks: PlanClocks, node: ClockNodeProfile): ClockSetting | undefined {
	return Object.hasOwn(clocks.values, node.id) ? clocks.values[node.id] : resetSetting(node);
}

/** A setting as one would type it. */
export function settingText(setting: ClockSetting): string {
	if (setting instanceof Rational) return exactText(setting);
	return typeof setting === 'boolean' ? (setting ? 'on' : 'off') : setting;
}

/** A frequency as one would type it. */
export function frequencyText(hz: Rational): string {
	const [unit, size] = hz.compare(MEGA) >= 0 ? ['MHz', MEGA] : hz.compare(KILO) >= 0 ? ['kHz', KILO] : ['Hz', Rational.one];
	return `${exactText(hz.div(size))} ${unit}`;
}

const MEGA = Rational.int(1_000_000);
const KILO = Rational.int(1000);

/** What the next step up (1) or down (-1) in rate sets, as typed text; undefined where there is none. */
export function steppedText(clocks: PlanClocks, node: ClockNodeProfile, way: 1 | -1): string | undefined {
	const now = settingOf(clocks, node);
	switch (node.kind) {
		case 'source': {
			if (!node.chosen || !(now instanceof Rational)) return undefined;
			const next = now.add(tenth(now).mul(Rational.int(way)));
			return next.sign > 0 ? frequencyText(next) : undefined;
		}
		case 'divide':
		case 'multiply': {
			const up = node.kind === 'multiply' ? way : way === 1 ? -1 : 1;
			const next = stepFactor(node.by, now as Rational, up);
			return next.equals(now as Rational) ? undefined : settingText(next);
		}
		case 'select': {
			const at = node.from.indexOf(now as string) + (way === 1 ? -1 : 1);
			return node.from[at];
		}
		case 'gate':
			return (now === true) === (way === 1) ? undefined : way === 1 ? 'on' : 'off';
		case 'follow':
			return undefined;
	}
}

/** What comes nearest to a rate that a node was dragged to; undefined where it cannot be dragged. */
export function draggedText(clocks: PlanClocks, node: ClockNodeProfile, hz: number): string | undefined {
	if (!(hz > 0 && Number.isFinite(hz))) return undefined;
	// Where a pointer stands is no exact rate: three digits are what the eye can mean.
	const wished = Rational.parse(hz.toPrecision(3));
	if (node.kind === 'source') return node.chosen ? frequencyText(wished) : undefined;
	if (node.kind === 'divide' || node.kind === 'multiply') {
		const input = clocks.rate(node.from);
		if (!input) return undefined;
		return settingText(nearestFactor(node.by, node.kind === 'divide' ? input.div(wished) : wished.div(input)));
	}
	if (node.kind !== 'select') return undefined;
	const running = node.from.filter((id) => clocks.rate(id));
	const off = (id: string) => Math.abs(Math.log(clocks.rate(id)!.toNumber() / hz));
	return running.length > 0 ? running.reduce((best, id) => (off(id) < off(best) ? id : best)) : undefined;
}

/** A power of ten that is a tenth of a frequency's leading digit's place: 12 MHz steps by 1 MHz. */
function tenth(hz: Rational): Rational {
	const digits = hz.floor().toString().length;
	return Rational.of(10n ** BigInt(Math.max(0, digits - 2)));
}

/** Can the plan set this node at all? */
export function settable(node: ClockNodeProfile): boolean {
	if (node.kind === 'source') return node.chosen;
	if (node.kind === 'divide' || node.kind === 'multiply') return !Array.isArray(node.by) || node.by.length > 1;
	return node.kind !== 'follow';
}

/** Where a node's clock comes from and what hangs directly on it, as ids. */
export function neighbours(part: PartProfile, id: string): { from: string[]; to: string[]; timers: string[] } {
	const node = part.clock.find((n) => n.id === id);
	const to = part.clock.filter((n) => feedersOf(n).includes(id)).map((n) => n.id);
	return { from: node ? [...new Set(feedersOf(node))] : [], to, timers: timersOn(part, id).map((timer) => timer.name) };
}
