import { Rational, type Hertz } from '../exact/index.js';
import type { SetNode } from './clock.js';
import { factorAllowed, readFactor } from './factors.js';
import type { ClockNodeProfile } from './node.js';
import type { PartProfile } from './profile.js';

/**
 * Settings of a part's clock nodes, by node id: a frequency for a chosen source, a factor for divide and
 * multiply, an input's id for select, true or false for a gate. What is left out stands as at reset.
 */
export type ClockSetting = Hertz | string | boolean;
export type ClockSettings = Record<string, ClockSetting>;

export interface SettingFinding {
	node: string;
	code: 'factor-not-offered' | 'no-such-input' | 'not-settable';
	value: string;
}

/** The tree with settings filled in. A setting the part does not offer is a finding; the reset value stands instead. */
export function setClock(part: PartProfile, settings: ClockSettings): { nodes: SetNode[]; findings: SettingFinding[] } {
	const findings: SettingFinding[] = [];
	const nodes = part.clock.map((node) => setNode(node, Object.hasOwn(settings, node.id) ? settings[node.id] : undefined, findings));
	return { nodes, findings };
}

/** What a node is set to at reset; undefined for one that only follows. */
export function resetSetting(node: ClockNodeProfile): ClockSetting | undefined {
	switch (node.kind) {
		case 'source':
			return Rational.parse(node.hz);
		case 'divide':
		case 'multiply':
			return readFactor(node.reset);
		case 'select':
		case 'gate':
			return node.reset;
		case 'follow':
			return undefined;
	}
}

function setNode(node: ClockNodeProfile, setting: ClockSetting | undefined, findings: SettingFinding[]): SetNode {
	const base: { id: string; min?: Hertz; max?: Hertz } = { id: node.id };
	if (node.min) base.min = Rational.parse(node.min.hz);
	if (node.max) base.max = Rational.parse(node.max.hz);
	const refuse = (code: SettingFinding['code']) => findings.push({ node: node.id, code, value: settingText(setting) });

	switch (node.kind) {
		case 'source': {
			const chosen = setting instanceof Rational && node.chosen;
			if (setting !== undefined && !chosen) refuse('not-settable');
			const hz = chosen ? setting : Rational.parse(node.hz);
			return { ...base, kind: 'source', hz, ppmLo: Rational.parse(node.ppm.lo), ppmHi: Rational.parse(node.ppm.hi) };
		}
		case 'divide':
		case 'multiply': {
			const offered = setting instanceof Rational && factorAllowed(node.by, setting);
			if (setting !== undefined && !offered) refuse('factor-not-offered');
			const by = offered ? setting : readFactor(node.reset);
			return node.kind === 'divide'
				? { ...base, kind: 'divide', from: node.from, by: Number(by.num) }
				: { ...base, kind: 'multiply', from: node.from, by };
		}
		case 'select': {
			const offered = typeof setting === 'string' && node.from.includes(setting);
			if (setting !== undefined && !offered) refuse('no-such-input');
			return { ...base, kind: 'select', from: node.from, pick: offered ? setting : node.reset };
		}
		case 'follow': {
			const table = node.table.map(([value, factor]): [number, Rational] => [value, Rational.parse(factor)]);
			return { ...base, kind: 'follow', from: node.from, watch: node.watch, table, otherwise: Rational.parse(node.otherwise) };
		}
		case 'gate':
			return { ...base, kind: 'gate', from: node.from, on: typeof setting === 'boolean' ? setting : node.reset };
	}
}

function settingText(setting: ClockSetting | undefined): string {
	if (!(setting instanceof Rational)) return String(setting);
	return setting.isInteger ? String(setting.num) : setting.toString();
}
