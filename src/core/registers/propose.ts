import { hex } from '../exact/index.js';
import type { ClockNodeProfile, PartProfile, Prescaler, TimerProfile } from '../part/index.js';
import { withResets } from './resets.js';

/** How registers are laid out: their width, and where the first block and each next one begin. */
export interface Layout {
	bits: 8 | 16 | 32;
	base: number;
	apart: number;
}

export type Json = string | number | boolean | null | Json[] | { [key: string]: Json };
type Values = Record<string, Json>;

/**
 * Invented registers for a part, every quantity that it can be set in bound to bits of its own (handoff.md): fields of one kind side by side,
 * wide numbers in registers of their own, halves where they are wider than a register.
 */
export function proposeBinding(part: PartProfile, { bits, base, apart }: Layout): Record<string, Json> {
	const clocks = new BlockMaker(bits, base);
	const pins = new BlockMaker(bits, base + apart);
	const clockValues = clockQuantities(part.clock, clocks);
	const pinValues = pinQuantities(part, pins);
	const timers = part.timers.map((timer, i) => {
		const block = new BlockMaker(bits, base + (2 + i) * apart);
		return { timer, block, values: timerQuantities(timer, block) };
	});
	const blocks: Values = { CLOCKS: clocks.json(), ...(part.pins && { PINS: pins.json() }) };
	const units: Values = {
		clock: { block: 'CLOCKS', values: clockValues },
		...(part.pins && { pins: { block: 'PINS', values: pinValues } })
	};
	timers.forEach(({ timer, block, values }, i) => {
		const name = blockName(timer.id);
		const gate = timer.gate !== undefined ? clockValues[`clock:${timer.gate}`] : undefined;
		const open: Values = typeof gate === 'string' ? { gate: `CLOCKS.${gate}` } : {};
		// A timer like another one says no more than where it is, and where its gate.
		const like = timers.slice(0, i).find((other) => alike(other.values, values) && alike(other.block.registers, block.registers))?.timer.id;
		const first =
			like !== undefined && (open.gate !== undefined) === (part.timers.find(({ id }) => id === like)!.gate !== undefined)
				? like
				: undefined;
		blocks[name] = first === undefined ? block.json() : { like: blockName(first), base: block.json().base };
		units[timer.id] = {
			...(first !== undefined && { like: first }),
			block: name,
			values: first === undefined ? { ...open, ...values } : open
		};
	});
	return withResets({ bits, blocks, units }, part);
}

const blockName = (id: string) => id.replaceAll('-', '').toUpperCase();
const alike = (a: Values, b: Values) => JSON.stringify(a) === JSON.stringify(b);

/** Bits that hold numbers up to one. */
const bitsFor = (most: number) => Math.max(1, Math.ceil(Math.log2(most + 1)));

const range = (name: string, low: number, width: number, whole: number) =>
	width === whole ? name : width === 1 ? `${name}[${low}]` : `${name}[${low + width - 1}:${low}]`;

/** Hands out bits of a block's registers, from its base up. */
class BlockMaker {
	readonly registers: Values = {};
	/** Registers that still have room, by their stem: name and the next free bit. */
	private readonly open = new Map<string, { name: string; next: number; count: number }>();
	private at = 0;

	constructor(
		private readonly bits: number,
		private readonly base: number
	) {}

	/** A field among others of its kind. */
	field(stem: string, width: number, rules?: Values): string {
		const last = this.open.get(stem);
		if (last && last.next + width <= this.bits) {
			last.next += width;
			return range(last.name, last.next - width, width, this.bits);
		}
		const count = (last?.count ?? 0) + 1;
		const name = count === 1 ? stem : `${stem}${count}`;
		this.add(name, rules);
		this.open.set(stem, { name, next: width, count });
		return range(name, 0, width, this.bits);
	}

	/** A number of its own, in as many registers as it takes, the high one first. */
	number(name: string, width: number): Json {
		if (width <= this.bits) {
			this.add(name);
			return range(name, 0, width, this.bits);
		}
		const pieces = Math.ceil(width / this.bits);
		const names = pieces === 2 ? ['LO', 'HI'] : Array.from({ length: pieces }, (_, i) => String(i));
		names.forEach((end) => this.add(`${name}${end}`));
		return names.map((end, i) => range(`${name}${end}`, 0, Math.min(this.bits, width - i * this.bits), this.bits)).reverse();
	}

	json(): { base: string; registers: Values } {
		return { base: hex(this.base), registers: this.registers };
	}

	private add(name: string, rules?: Values): void {
		this.registers[name] = rules ? { at: this.at, ...rules } : this.at;
		this.at += this.bits / 8;
	}
}

const wordTable = (words: readonly string[], from = 0): Values => Object.fromEntries(words.map((word, i) => [word, i + from]));

function clockQuantities(nodes: readonly ClockNodeProfile[], block: BlockMaker): Values {
	const values: Values = {};
	for (const node of nodes) {
		const name = `clock:${node.id}`;
		const factors = node.kind === 'divide' || node.kind === 'multiply' ? node.by : undefined;
		if (node.kind === 'source' || node.kind === 'multiply') {
			values[`${name}:on`] = { in: block.field('WAKE', 1), after: `${block.field('AWAKE', 1)}==code` };
		}
		if (node.kind === 'gate') values[name] = block.field('GATES', 1);
		if (node.kind === 'select') values[name] = { in: block.field('CHOICE', bitsFor(node.from.length - 1)), as: wordTable(node.from) };
		if (!factors) continue;
		if (Array.isArray(factors)) {
			if (factors.length > 1) values[name] = { in: block.field('RATIOS', bitsFor(factors.length - 1)), as: wordTable(factors.map(String)) };
		} else {
			const { from, to } = factors;
			const place = block.field('RATIOS', bitsFor(to - from));
			const awake = values[`${name}:on`] as Values | undefined;
			// A loop is off while its factor changes.
			values[name] = { in: place, ...(from > 0 && { as: `v-${from}` }), ...(awake && { before: `${String(awake.in)}=0` }) };
		}
	}
	return inOrder(nodes, values);
}

/** On the way up from reset: what wakes, what a loop hangs on, factors, loops, then what switches over, then what is opened. */
function inOrder(nodes: readonly ClockNodeProfile[], values: Values): Values {
	const feeds = new Set<string>();
	for (const node of nodes)
		if (node.kind === 'multiply') for (let at: string | undefined = node.from; at !== undefined;) at = fed(nodes, at, feeds);
	const kind = (name: string) => nodes.find(({ id }) => id === name.split(':')[1])!;
	const rank = (name: string): number => {
		const node = kind(name);
		if (node.kind === 'source') return 0;
		if (node.kind === 'select') return feeds.has(node.id) ? 1 : 4;
		if (node.kind === 'gate') return 5;
		return name.endsWith(':on') ? 3 : 2;
	};
	return Object.fromEntries(Object.entries(values).sort(([a], [b]) => rank(a) - rank(b)));
}

/** One node before another; a choice ends the way. */
function fed(nodes: readonly ClockNodeProfile[], at: string, feeds: Set<string>): string | undefined {
	const node = nodes.find(({ id }) => id === at);
	if (!node || feeds.has(at)) return undefined;
	feeds.add(at);
	return 'from' in node && typeof node.from === 'string' ? node.from : undefined;
}

function pinQuantities({ pins = [] }: PartProfile, block: BlockMaker): Values {
	const values: Values = {};
	for (const { id, functions } of pins) {
		if (functions.length === 0) continue;
		values[`pin:${id}`] = { in: block.field('WHO', bitsFor(functions.length)), as: { none: 0, ...wordTable(functions, 1) } };
		values[`pin:${id}:out`] = block.field('DRIVEN', 1);
	}
	return values;
}

function timerQuantities(timer: TimerProfile, block: BlockMaker): Values {
	const stopped = stoppedCode(timer.prescaler);
	const values: Values = {
		run: stopped === undefined ? block.field('RUNCTL', 1) : { with: 'prescale', off: stopped },
		...waysOf(timer, block),
		...prescaleValues(timer.prescaler, block),
		count: block.number('COUNT', timer.width)
	};
	if (timer.modes.includes('preload')) values.preload = block.number('REFILL', timer.width);
	if (timer.modes.some((mode) => mode !== 'preload' && mode !== 'tap' && mode !== 'free'))
		values.reload = block.number('TOPVAL', timer.width);
	if (timer.repeat !== undefined) values.repeat = block.number('REPEAT', bitsFor(timer.repeat));
	for (const channel of timer.channels) Object.assign(values, channelValues(timer, channel, block));
	Object.assign(values, inputValues(timer, block));
	const events = [...new Set((timer.interrupts ?? []).flatMap(({ on }) => on))];
	for (const event of events) values[`interrupt:${event}`] = block.field('ASKINT', 1);
	for (const event of timer.paced ?? []) values[`paced:${event}`] = block.field('PACES', 1);
	for (const event of events) values[`flag:${event}`] = block.field('EVENTS', 1, { '1-acts': 'all' });
	if (timer.loadNow) values.load = block.field('POKE', 1, { write: 'only', '1-acts': 'all' });
	return values;
}

/** The code of a prescaler that stands for no clock at all. */
function stoppedCode(prescaler: Prescaler): number | undefined {
	return prescaler.kind === 'ladder' ? prescaler.steps.find(({ ratio }) => ratio === 0)?.code : undefined;
}

/** How it counts. */
function waysOf(timer: TimerProfile, block: BlockMaker): Values {
	const values: Values = {};
	const word = (quantity: string, words: readonly string[]) => {
		if (words.length > 1) values[quantity] = { in: block.field('WAYCTL', bitsFor(words.length - 1)), as: wordTable(words) };
	};
	word('mode', timer.modes);
	if (timer.oneShot) {
		values['one-shot'] = block.field('WAYCTL', 1);
		word('retrigger', timer.oneShot.retrigger);
	}
	word('update-at', timer.update ?? []);
	if (timer.tap)
		values.tap = {
			in: block.field('WAYCTL', bitsFor(timer.tap.to - timer.tap.from)),
			as: timer.tap.from > 0 ? `v-${timer.tap.from}` : 'v'
		};
	if (timer.buffered?.reload === 'either') values['buffer:reload'] = block.field('WAYCTL', 1);
	if (timer.buffered?.compare === 'either') values['buffer:compare'] = block.field('WAYCTL', 1);
	if (timer.outputEnable) {
		values.outputs = block.field('WAYCTL', 1);
		if (timer.outputEnable.fault) values.fault = block.field('WAYCTL', 1);
	}
	if (timer.postscale) {
		const { postscale } = timer;
		values.postscale = Array.isArray(postscale)
			? { in: block.field('WAYCTL', bitsFor(postscale.length - 1)), as: wordTable(postscale.map(String)) }
			: { in: block.field('WAYCTL', bitsFor(postscale.to - postscale.from)), as: `v-${postscale.from}` };
	}
	return values;
}

function prescaleValues(prescaler: Prescaler, block: BlockMaker): Values {
	const one = (stage: Prescaler, stem: string): Json | undefined => {
		if (stage.kind === 'linear') return { in: block.number(stem, bitsFor(stage.max - 1)), as: 'v-1' };
		if (stage.kind === 'ladder') return { in: block.field(stem, bitsFor(Math.max(...stage.steps.map(({ code }) => code)))), as: 'code' };
		return undefined;
	};
	if (prescaler.kind !== 'chain') {
		const value = one(prescaler, 'TICKDIV');
		return value === undefined ? {} : { prescale: value };
	}
	const stages = prescaler.stages.flatMap((stage, i): [string, Json][] => {
		const value = one(stage, stage.kind === 'linear' ? `TICKDIV${i + 1}` : 'TICKDIV');
		return value === undefined ? [] : [[`prescale:${i + 1}`, value]];
	});
	return Object.fromEntries(stages);
}

function channelValues(timer: TimerProfile, channel: TimerProfile['channels'][number], block: BlockMaker): Values {
	const { id, outputs, complement, capture } = channel;
	const upper = id.replaceAll('-', '').toUpperCase();
	const values: Values = { [`compare:${id}`]: block.number(`MATCH${upper}`, timer.width) };
	if (channel.secondCompare) values[`compare:${id}:2`] = block.number(`SECOND${upper}`, timer.width);
	const ends = (end: string) => {
		values[`polarity:${id}${end}`] = { in: block.field(`SHAPE${upper}`, 1), as: { high: 0, low: 1 } };
		values[`drive:${id}${end}`] = block.field(`SHAPE${upper}`, 1);
		if (timer.outputEnable?.idle) values[`idle:${id}${end}`] = block.field(`SHAPE${upper}`, 1);
	};
	if (outputs.length > 0) {
		values[`output:${id}`] = { in: block.field(`SHAPE${upper}`, bitsFor(outputs.length - 1)), as: outputs.map((_, i) => i) };
		ends('');
	}
	if (complement) {
		ends(':n');
		const width = bitsFor(Math.max(...complement.segments.map(({ to }) => to)));
		for (const side of complement.separate ? [':rise', ':fall'] : [''])
			values[`dead:${id}${side}`] = { in: block.number(`GAP${upper}${side.slice(1).toUpperCase()}`, width), as: 'code' };
	}
	if (capture) {
		values[`capture:${id}`] = block.field(`CATCH${upper}`, 1);
		values[`edge:${id}`] = {
			in: block.field(`CATCH${upper}`, bitsFor(Math.max(1, capture.edges.length - 1))),
			as: wordTable(capture.edges)
		};
		if (capture.every.length > 1)
			values[`every:${id}`] = {
				in: block.field(`CATCH${upper}`, bitsFor(capture.every.length - 1)),
				as: wordTable(capture.every.map(String))
			};
		Object.assign(values, filterValue(id, capture.filters, `CATCH${upper}`, block));
	}
	return values;
}

function filterValue(
	id: string,
	filters: { samples: number; divide: number; code?: number | undefined }[] | undefined,
	stem: string,
	block: BlockMaker
): Values {
	if (!filters) return {};
	const codes = filters.map(({ samples, divide, code }, i): [string, number] => [`${samples}x${divide}`, code ?? i]);
	return {
		[`filter:${id}`]: { in: block.field(stem, bitsFor(Math.max(...codes.map(([, code]) => code)))), as: Object.fromEntries(codes) }
	};
}

const ACTIONS = ['none', 'start', 'reset', 'restart', 'gate', 'clock', 'capture'];

/** What comes in and what is sent. */
function inputValues({ inputs = [], encoder, sources = [] }: TimerProfile, block: BlockMaker): Values {
	const values: Values = {};
	const ids = inputs.map(({ id }) => id);
	const ticks = [
		'kernel',
		...inputs.filter(({ actions }) => actions.includes('clock')).map(({ id }) => id),
		...(encoder ? ['encoder'] : [])
	];
	if (ticks.length > 1) values.source = { in: block.field('LINK', bitsFor(ticks.length - 1)), as: wordTable(ticks) };
	if (encoder) values.encoder = { in: block.field('LINK', bitsFor(encoder.times.length - 1)), as: wordTable(encoder.times.map(String)) };
	if (encoder?.index) values['encoder:index'] = block.field('LINK', 1);
	if (ids.length > 0) {
		values.trigger = { in: block.field('LINK', bitsFor(ids.length - 1)), as: wordTable(ids) };
		const known = ACTIONS.filter((action) => action === 'none' || inputs.some(({ actions }) => (actions as string[]).includes(action)));
		values.action = { in: block.field('LINK', bitsFor(known.length - 1)), as: wordTable(known) };
	}
	for (const { id, filters } of inputs) {
		values[`edge:${id}`] = { in: block.field('COMES', 2), as: wordTable(['rise', 'fall', 'both']) };
		Object.assign(values, filterValue(id, filters, 'COMES', block));
	}
	if (sources.length > 1) values.send = { in: block.field('SENDS', bitsFor(sources.length - 1)), as: wordTable(sources) };
	return values;
}
