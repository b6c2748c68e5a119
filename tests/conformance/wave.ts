import { z } from 'zod';
import {
	captureEdges,
	countQuadrature,
	EdgeRecorder,
	Simulation,
	type SimChannel,
	type SimSystem,
	type SimTimer
} from '../../src/core/sim/index.js';
import { integer, rational, type Check } from './shapes.js';

/** Kinds `wave` and `input`: the simulator against the cycle-by-cycle reference. */
const level = z.union([z.literal(0), z.literal(1)]);
const action = z.enum(['none', 'low', 'high', 'toggle']).default('none');
const output = z.discriminatedUnion('model', [
	z.strictObject({ model: z.literal('level'), sense: z.enum(['below', 'above']) }),
	z.strictObject({
		model: z.literal('action'),
		edge: z.enum(['enter', 'leave']).default('enter'),
		initial: level.default(0),
		zero: action,
		top: action,
		match_up: action,
		match_down: action
	}),
	z.strictObject({ model: z.literal('none') })
]);
const channel = z.strictObject({
	id: z.string(),
	compare: integer.default(0),
	output,
	dead: integer.optional(),
	polarity: z.enum(['high', 'low']).default('high')
});
const edge = z.enum(['rise', 'fall', 'both']).default('rise');
const timer = z.strictObject({
	id: z.string(),
	kernel_div: integer.default(1),
	width: integer,
	prescale: integer.default(1),
	mode: z.enum(['up', 'down', 'updown', 'free', 'preload']),
	rule: z.enum(['inclusive', 'exclusive']).default('inclusive'),
	reload: integer.default(0),
	preload: integer.default(0),
	repeat: integer.default(0),
	update_at: z.enum(['bottom', 'top', 'both']).default('bottom'),
	one_shot: z.boolean().default(false),
	start: z.union([z.strictObject({ at: integer }), z.strictObject({ trigger: z.literal(true) })]).default({ at: 0 }),
	trigger_in: z
		.strictObject({
			from: z.union([z.strictObject({ timer: z.string(), source: z.string() }), z.strictObject({ input: z.string(), edge })]),
			action: z.enum(['start', 'reset', 'restart', 'gate', 'clock', 'capture']),
			latency: integer.default(0)
		})
		.optional(),
	buffered: z
		.strictObject({ reload: z.boolean().default(true), compare: z.boolean().default(true) })
		.default({ reload: true, compare: true }),
	channels: z.array(channel).default([]),
	sequence: z
		.strictObject({
			rows: z.array(z.strictObject({ compare: z.record(z.string(), integer).default({}), reload: integer.optional() })),
			loop: z.boolean().default(true),
			lag: integer.default(0),
			prefill: z.boolean().default(false)
		})
		.optional(),
	pattern: z
		.strictObject({
			words: z.array(z.strictObject({ set: z.array(integer).default([]), clear: z.array(integer).default([]) })),
			loop: z.boolean().default(true),
			lag: integer.default(0),
			initial: z.array(integer).default([])
		})
		.optional()
});
const input = z.strictObject({ initial: level, edges: z.array(integer) });
const write = z.strictObject({ at: integer, timer: z.string(), reg: z.string(), value: integer });
const given = z.strictObject({
	base_hz: rational,
	until: integer,
	timers: z.array(timer),
	inputs: z.record(z.string(), input).default({}),
	writes: z.array(write).default([])
});

function toChannel({ id, compare, output: out, dead, polarity }: z.infer<typeof channel>): SimChannel {
	const own =
		out.model === 'action'
			? {
					model: out.model,
					edge: out.edge,
					initial: out.initial,
					zero: out.zero,
					top: out.top,
					matchUp: out.match_up,
					matchDown: out.match_down
				}
			: out;
	return { id, compare, output: own, inverted: polarity === 'low', ...(dead !== undefined && { dead }) };
}

function toTimer(one: z.infer<typeof timer>): SimTimer {
	const { id, width, prescale, mode, rule, reload, preload, repeat, buffered, sequence, pattern } = one;
	const made: SimTimer = {
		id,
		kernel: one.kernel_div,
		width,
		prescale,
		mode,
		rule,
		reload,
		preload,
		repeat,
		updateAt: one.update_at,
		oneShot: one.one_shot,
		start: 'at' in one.start ? one.start.at : 'trigger',
		buffered,
		channels: one.channels.map(toChannel)
	};
	const trigger = one.trigger_in;
	if (trigger) {
		const from = 'input' in trigger.from ? trigger.from : { timer: trigger.from.timer, event: trigger.from.source };
		made.trigger = { from, action: trigger.action, latency: trigger.latency };
	}
	if (sequence)
		made.sequences = [
			{
				...sequence,
				rows: sequence.rows.map(({ compare, reload: row }) => ({ compare, ...(row !== undefined && { reload: row }) }))
			}
		];
	if (pattern) made.pattern = pattern;
	return made;
}

export const wave: Check = (raw) => {
	const { until, timers, inputs, writes } = given.parse(raw);
	const order = writes.map((one, i) => ({ ...one, i })).sort((a, b) => a.at - b.at || a.i - b.i);
	const system: SimSystem = {
		timers: timers.map(toTimer),
		inputs,
		writes: order.map(({ at, timer: id, reg, value }) => ({ at, timer: id, register: reg, value }))
	};
	const { recorder, simulation } = runSystem(system, until);
	const captures = timers.some((one) => one.trigger_in?.action === 'capture');
	return {
		outputs: Object.fromEntries(simulation.names.map((name, i) => [name, { initial: recorder.initial[i], edges: recorder.edges[i] }])),
		updates: Object.fromEntries(timers.map(({ id }, i) => [id, recorder.updates[i] ?? []])),
		final: Object.fromEntries(timers.map(({ id }, i) => [id, simulation.valueOf(i)])),
		...(captures && {
			captures: Object.fromEntries(
				timers.flatMap(({ id, trigger_in: one }, i) => (one?.action === 'capture' ? [[id, recorder.captures[i] ?? []]] : []))
			)
		})
	};
};

export function runSystem(system: SimSystem, until: number): { recorder: EdgeRecorder; simulation: Simulation } {
	const recorder = new EdgeRecorder();
	const simulation = new Simulation(system, recorder);
	simulation.runTo(until);
	return { recorder, simulation };
}

const filter = z.strictObject({ samples: integer, divide: integer }).default({ samples: 1, divide: 1 });
const inputGiven = z.strictObject({
	base_hz: rational,
	until: integer,
	inputs: z.record(z.string(), input),
	counter: z.strictObject({ kernel_div: integer, prescale: integer.default(1), width: integer.default(16) }),
	capture: z.strictObject({ input: z.string(), edge, every: integer.default(1), filter }).optional(),
	encoder: z
		.strictObject({
			a: z.string(),
			b: z.string(),
			times: z.union([z.literal(1), z.literal(2), z.literal(4)]),
			reload: integer,
			range: z.enum(['wrap', 'clamp']),
			start: integer,
			filter
		})
		.optional()
});

export const inputs: Check = (raw) => {
	const { until, inputs: all, counter, capture, encoder } = inputGiven.parse(raw);
	const kernel = counter.kernel_div;
	if (encoder) return countQuadrature(all[encoder.a], all[encoder.b], { ...encoder, kernel }, until);
	const { edge: kind, every, filter: own } = capture!;
	const setting = { kernel, prescale: counter.prescale, width: counter.width, edge: kind, every, filter: own };
	return { captures: captureEdges(all[capture!.input], setting, until) };
};
