import { hex } from '../exact/index.js';
import type { ClockNodeProfile, PartProfile } from '../part/index.js';
import { readBinding } from './binding.js';
import { settle } from './settle.js';
import { setUp } from './setUp.js';
import type { QuantityValue } from './code.js';
import type { Json } from './propose.js';

type Plain = Record<string, Json>;
type Registers = Record<string, number | Plain>;

/**
 * A proposed binding with what its registers hold at reset: the clock tree as the profile says that it is then, all else 0. Registers that
 * tell a state, or take only what is written, say nothing.
 */
export function withResets(json: Plain, part: PartProfile): Plain {
	const { binding } = readBinding(json);
	if (!binding) return json;
	const values = binding.units.get('clock')?.values;
	const wanted = [...clockAtReset(part)].filter(([name]) => values?.has(name));
	const { accesses } = setUp(binding, new Map([['clock', new Map(wanted)]]));
	const words = new Map(settle(binding, accesses).map(({ register, value }) => [register.key, value]));
	const blocks = Object.entries(json.blocks as Record<string, Plain>).map(([block, own]): [string, Plain] => {
		if (own.registers === undefined) return [block, own];
		const registers = Object.entries(own.registers as Registers).map(([name, register]): [string, number | Plain] => {
			const plain = typeof register === 'number' ? { at: register } : register;
			const silent = plain.write === 'only' || plain['1-acts'] !== undefined || STATES.includes(name);
			return [name, silent ? register : { ...plain, reset: hex(words.get(`${block}.${name}`) ?? 0n) }];
		});
		return [block, { ...own, registers: Object.fromEntries(registers) }];
	});
	return { ...json, blocks: Object.fromEntries(blocks) };
}

/** Registers that only tell how it stands, and that count by themselves. */
const STATES = ['AWAKE', 'COUNT', 'COUNTLO', 'COUNTHI'];

/** Choices and factors of the tree at reset; what the core's clock hangs on then is awake. */
function clockAtReset({ clock, core }: PartProfile): Map<string, QuantityValue> {
	const found = new Map<string, QuantityValue>();
	for (const node of clock) {
		if (node.kind === 'select') found.set(`clock:${node.id}`, node.reset);
		else if (node.kind === 'multiply' || node.kind === 'divide') found.set(`clock:${node.id}`, Number(node.reset));
		if (node.kind === 'source' || node.kind === 'multiply') found.set(`clock:${node.id}:on`, 0);
	}
	const seen = new Set<string>();
	for (let at = core; at !== undefined && !seen.has(at); at = before(clock, at)) {
		seen.add(at);
		if (found.has(`clock:${at}:on`)) found.set(`clock:${at}:on`, 1);
	}
	return found;
}

function before(nodes: readonly ClockNodeProfile[], id: string): string | undefined {
	const node = nodes.find((one) => one.id === id);
	if (!node) return undefined;
	if (node.kind === 'select') return node.reset;
	return 'from' in node && typeof node.from === 'string' ? node.from : undefined;
}
