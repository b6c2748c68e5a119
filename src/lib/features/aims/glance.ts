import { type AimDerivation, type AnyAim, kindOf } from '../../../core/aims/index.js';
import type { Finding } from '../../../core/check/index.js';
import type { PinUse } from '../../../core/plan/index.js';
import type { Rational } from '../../../core/exact/index.js';
import { viewOf } from './kinds/index.js';

/** One aim at a glance: what it is, where, what it wishes, and what it comes to. */
export interface Glance {
	aim: AnyAim;
	kind: string;
	place: string;
	wish: string;
	/** What it comes to, exactly. */
	comes: { value: Rational; unit: string }[];
	faults: number;
	warnings: number;
}

export function glanceOf(derivation: AimDerivation, findings: readonly Finding[], pins: readonly PinUse[]): Glance {
	const { aim, timer } = derivation;
	const own = findings.filter((finding) => finding.aim === aim.id);
	const faults = own.filter(({ severity }) => severity === 'fault').length;
	const led = pins.filter((use) => use.aim === aim.id && use.pin).map(({ pin }) => pin!.name);
	return {
		aim,
		kind: viewOf(aim).name,
		place: [timer?.name ?? aim.timer, ...(led.length > 0 ? [led.join(', ')] : [])].join(' · '),
		wish: viewOf(aim).wish(aim),
		comes: kindOf(aim).mainFigures.flatMap((name) => derivation.figures.find((figure) => figure.name === name) ?? []),
		faults,
		warnings: own.length - faults
	};
}

/** Has a glance every word typed? Its name, kind, place, group and state are looked through. */
export function matches(glance: Glance, text: string): boolean {
	const state = glance.faults > 0 ? 'fault' : glance.warnings > 0 ? 'warning' : 'met';
	const all = [glance.aim.name, glance.kind, glance.place, glance.aim.group, glance.wish, state].join(' ').toLowerCase();
	return text
		.toLowerCase()
		.split(/\s+/)
		.every((word) => all.includes(word));
}

/** The aims of each group, groups in the order of their first aim, those without one last. */
export function grouped(glances: readonly Glance[]): { group: string; glances: Glance[] }[] {
	const groups = new Map<string, Glance[]>();
	for (const glance of glances) {
		const group = glance.aim.group.trim();
		groups.set(group, [...(groups.get(group) ?? []), glance]);
	}
	const last = groups.get('');
	groups.delete('');
	return [...[...groups].map(([group, some]) => ({ group, glances: some })), ...(last ? [{ group: '', glances: last }] : [])];
}
