import type { Finding } from '../../../core/check/index.js';
import type { Rational } from '../../../core/exact/index.js';
import type { Aim, Derivation, JobDerivation, JobKind, PinUse } from '../../../core/plan/index.js';

/** One aim at a glance: what it is, where, what it wishes, and what it comes to. */
export interface Glance {
	aim: Aim;
	kind: string;
	place: string;
	wish: string;
	/** What it comes to, exactly. */
	comes: { value: Rational; unit: string }[];
	faults: number;
	warnings: number;
}

export const KIND_NAMES: Record<JobKind | 'pwm', string> = {
	pwm: 'pulse train',
	pair: 'complementary pair',
	follower: 'follower',
	toggle: 'toggled clock',
	table: 'shape on a carrier',
	tick: 'tick',
	divided: 'divided pulses',
	oneshot: 'one-shot',
	pattern: 'pattern',
	capture: 'measured rate',
	width: 'measured width',
	encoder: 'encoder'
};

/** The fields and the figures that say most of each kind. */
const SAYS: Record<JobKind, { wish: (aim: never) => string; figures: string[] }> = {
	pair: { wish: (aim: { rate: string; duty: string }) => `${aim.rate}, ${aim.duty}`, figures: ['rate', 'duty'] },
	follower: { wish: (aim: { lag: string; duty: string }) => `${aim.lag} behind, ${aim.duty}`, figures: ['lag-degrees', 'rate'] },
	toggle: { wish: (aim: { rate: string }) => aim.rate, figures: ['rate'] },
	table: { wish: (aim: { base: string; carrier: string }) => `${aim.base} on ${aim.carrier}`, figures: ['base', 'carrier'] },
	tick: { wish: (aim: { every: string }) => aim.every, figures: ['period'] },
	divided: { wish: (aim: { outputs: unknown[]; frame: string }) => `${aim.outputs.length} every ${aim.frame}`, figures: ['frame', 'load'] },
	oneshot: { wish: (aim: { width: string; delay: string }) => `${aim.width} after ${aim.delay}`, figures: ['width', 'delay'] },
	pattern: { wish: (aim: { lines: unknown[]; rate: string }) => `${aim.lines.length} lines at ${aim.rate}`, figures: ['pace', 'length'] },
	capture: { wish: (aim: { lowest: string; highest: string }) => `${aim.lowest} to ${aim.highest}`, figures: ['lowest', 'step-high'] },
	width: { wish: (aim: { shortest: string; longest: string }) => `${aim.shortest} to ${aim.longest}`, figures: ['step-short', 'longest'] },
	encoder: { wish: (aim: { range: string; cycles: string }) => `${aim.range} of ${aim.cycles} cycles`, figures: ['counts', 'fastest'] }
};

export function glanceOf(derivation: Derivation | JobDerivation, findings: readonly Finding[], pins: readonly PinUse[]): Glance {
	const { aim, timer } = derivation;
	const own = findings.filter((finding) => finding.aim === aim.id);
	const faults = own.filter(({ severity }) => severity === 'fault').length;
	const led = pins.filter((use) => use.aim === aim.id && use.pin).map(({ pin }) => pin!.name);
	const frame = {
		aim,
		kind: KIND_NAMES[aim.kind],
		place: [timer?.name ?? aim.timer, ...(led.length > 0 ? [led.join(', ')] : [])].join(' · '),
		faults,
		warnings: own.length - faults
	};
	if (!('figures' in derivation)) {
		const { settings } = derivation;
		const comes = settings
			? [
					{ value: settings.hz, unit: 'Hz' },
					{ value: settings.duty, unit: '%' }
				]
			: [];
		return { ...frame, wish: `${derivation.aim.rate}, ${derivation.aim.duty}`, comes };
	}
	const { wish, figures } = SAYS[derivation.aim.kind];
	const comes = figures.flatMap((name) => derivation.figures.find((figure) => figure.name === name) ?? []);
	return { ...frame, wish: wish(derivation.aim as never), comes };
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
