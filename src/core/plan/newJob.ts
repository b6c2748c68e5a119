import { routesTo, type PartProfile, type TimerProfile } from '../part/index.js';
import { channelsOf, useKind } from './claims.js';
import { FILTER, type Aim, type Plan } from './document.js';
import type { JobAim, JobKind } from './jobs/index.js';
import { toggles } from './jobs/toggle.js';
import { pulseOn } from './places.js';

type Job<K extends JobKind> = Extract<JobAim, { kind: K }>;

const HEAD = { group: '', pins: {}, locks: {}, note: '', channel: 'ch1' };

/** What a fresh aim of each kind says until it is told otherwise. */
const FRESH: { [K in JobKind]: Omit<Job<K>, 'id' | 'name' | 'timer' | 'kind' | keyof typeof HEAD> } = {
	tick: { mode: 'up', every: '1 ms', tolerance: '0.1 %', notice: 'interrupt', service: '40', from: '', to: '' },
	capture: {
		lowest: '10 Hz',
		highest: '1 kHz',
		step: '1 %',
		every: 'auto',
		overflows: 'not-counted',
		service: '60',
		filter: 'none',
		method: 'capture',
		gate: '100 ms'
	},
	width: {
		level: 'high',
		shortest: '100 us',
		longest: '25 ms',
		step: '1 %',
		overflows: 'not-counted',
		service: '60',
		filter: 'none',
		each: '',
		unit: ''
	},
	encoder: { cycles: '256', times: '4', range: '1 turn', ends: 'wrap', filter: 'none', speed: '60 rpm', start: '0', low: '', high: '' },
	toggle: { rate: '1 kHz', tolerance: '0.1 %' },
	pair: { rate: '20 kHz', tolerance: '0.5 %', duty: '50 %', dead: '1 us', repeat: '0' },
	oneshot: { input: 'ext', edge: 'rise', delay: '100 us', width: '1 ms', tolerance: '0.5 %', retrigger: 'ignore', bounce: '' },
	divided: {
		mode: 'up',
		every: '100 us',
		tolerance: '0.1 %',
		service: '40',
		frame: '20 ms',
		frameTolerance: '0.1 %',
		factor: '255',
		outputs: [{ id: 'output-1', name: 'output 1', pin: '', width: '1.5 ms' }]
	},
	follower: {
		leader: 'none',
		action: 'start',
		source: 'auto',
		input: 'auto',
		lag: '120 deg',
		lagTolerance: '1 deg',
		rate: '1 kHz',
		tolerance: '0.1 %',
		duty: '50 %'
	},
	table: {
		second: '',
		shape: 'sine',
		own: '',
		carrier: '20 kHz',
		tolerance: '0.5 %',
		base: '100 Hz',
		baseTolerance: '0.5 %',
		amplitude: '45 %',
		offset: '50 %',
		wave: 'full',
		writes: 'buffered',
		lag: '20',
		prefill: 'yes',
		...FILTER
	},
	pattern: {
		rate: '100 kHz',
		tolerance: '0.1 %',
		lines: [
			{ id: 'line-1', name: 'clock', pin: '', bit: '0', levels: '0101010101010101' },
			{ id: 'line-2', name: 'data', pin: '', bit: '1', levels: '0011001111000011' }
		],
		loop: 'yes',
		least: '6',
		most: '30'
	}
};

/** An aim of a kind as it begins, with what is said otherwise. */
export function freshJob<K extends JobKind>(kind: K, id: string, name: string, timer: string, change: Partial<Job<K>>): Job<K> {
	const { channel, ...head } = HEAD;
	const placed = { ...head, ...(hasChannel(kind) && { channel }), id, name, timer, kind };
	return { ...FRESH[kind], ...placed, ...change } as unknown as Job<K>;
}

function hasChannel(kind: JobKind): boolean {
	return !['tick', 'encoder', 'divided', 'pattern'].includes(kind);
}

/** A fresh aim of a kind on the first timer that can do it and is free, or can do it at all; undefined where the part has none. */
export function newJob(kind: JobKind, id: string, name: string, plan: Plan): JobAim | undefined {
	const leader = kind === 'follower' ? leaderIn(plan) : undefined;
	const able = plan.part.timers.filter((timer) => canDo(kind, timer) && (!leader || follows(plan.part, timer.id, leader.timer)));
	const taken = new Set(plan.aims.map((aim) => aim.timer));
	const timer = able.find((one) => !taken.has(one.id)) ?? able.find((one) => canDo(kind, one));
	if (!timer || (kind === 'follower' && !leader)) return undefined;
	return settledOn(freshJob(kind, id, name, timer.id, changeFor(kind, leader)), timer, plan);
}

/** The first aim that can lead another. */
function leaderIn(plan: Plan): Aim | undefined {
	return plan.aims.find(
		(aim) => useKind(aim) === 'period' && aim.kind !== 'tick' && plan.part.timers.some((timer) => follows(plan.part, timer.id, aim.timer))
	);
}

function follows(part: PartProfile, timer: string, leader: string): boolean {
	return timer !== leader && routesTo(part, timer).some(({ from }) => from.timer === leader);
}

function changeFor(kind: JobKind, leader: Aim | undefined): object {
	if (kind !== 'follower' || !leader) return {};
	return { leader: leader.id, ...('duty' in leader && { duty: leader.duty }), ...('rate' in leader && { rate: leader.rate }) };
}

/** An aim on another timer, with the first free channel that can serve it there and what else that timer offers; undefined where it cannot. */
export function placedOn(aim: Aim, timer: TimerProfile, plan: Plan): Aim | undefined {
	const rest = { ...plan, aims: plan.aims.filter(({ id }) => id !== aim.id) };
	if (aim.kind !== 'pwm') {
		if (!canDo(aim.kind, timer)) return undefined;
		const moved = settledOn({ ...aim, timer: timer.id, pins: {} }, timer, rest);
		return moved.kind === 'table' ? { ...moved, second: '' } : moved;
	}
	const channels = pulseChannels(timer).filter((channel) => pulseOn(timer, channel, aim));
	const taken = new Set(rest.aims.filter((one) => one.timer === timer.id).flatMap((one) => channelsOf(one, plan.part)));
	const channel = channels.find(({ id }) => !taken.has(id)) ?? channels[0];
	return channel && { ...aim, timer: timer.id, channel: channel.id, pins: {} };
}

/** The aim with what this timer offers. */
function settledOn(job: JobAim, timer: TimerProfile, plan: Plan): JobAim {
	const taken = new Set(plan.aims.filter((aim) => aim.timer === timer.id).flatMap((aim) => channelsOf(aim, plan.part)));
	const free = (channels: TimerProfile['channels']) => (channels.find(({ id }) => !taken.has(id)) ?? channels[0])?.id;
	switch (job.kind) {
		case 'tick':
		case 'divided':
			return { ...job, mode: timer.modes.includes(job.mode) ? job.mode : timer.modes[0] };
		case 'encoder': {
			const { times } = timer.encoder!;
			return { ...job, times: times.some((one) => String(one) === job.times) ? job.times : (String(times.at(-1)) as '4') };
		}
		case 'oneshot': {
			const inputs = timer.inputs!.filter(({ actions }) => actions.includes('start'));
			const input = inputs.find(({ id }) => id === job.input) ?? inputs[0];
			const retrigger = timer.oneShot!.retrigger;
			return {
				...job,
				channel: free(pulseChannels(timer)),
				input: input.id,
				retrigger: retrigger.includes(job.retrigger) ? job.retrigger : retrigger[0]
			};
		}
		case 'pattern':
			return job;
		default:
			return { ...job, channel: free(channelsFor(job.kind, timer)) };
	}
}

/** Can the timer do such a job at all? */
export function canDo(kind: JobKind, timer: TimerProfile): boolean {
	const counts = timer.modes.some((mode) => mode === 'up' || mode === 'down' || mode === 'updown');
	switch (kind) {
		case 'tick':
		case 'divided':
			return true;
		case 'encoder':
			return timer.encoder !== undefined;
		case 'oneshot':
			return (
				timer.oneShot !== undefined &&
				timer.modes.includes('up') &&
				pulseChannels(timer).length > 0 &&
				(timer.inputs ?? []).some((one) => one.actions.includes('start'))
			);
		case 'follower':
			return (timer.inputs ?? []).length > 0 && pulseChannels(timer).length > 0;
		case 'pattern':
			return counts && (timer.paced ?? []).includes('update');
		default:
			return channelsFor(kind, timer).length > 0;
	}
}

/** Channels of a timer that can do a job that needs one. */
export function channelsFor(kind: JobKind, timer: TimerProfile): TimerProfile['channels'] {
	switch (kind) {
		case 'capture':
			return timer.channels.filter((channel) => channel.capture !== undefined);
		case 'width':
			return timer.channels.filter((channel) => channel.capture?.edges.some((edge) => edge !== 'rise'));
		case 'toggle':
			return timer.channels.filter((channel) => timer.modes.some((mode) => (mode === 'up' || mode === 'down') && toggles(channel, mode)));
		case 'pair':
			return timer.channels.filter((channel) => channel.complement !== undefined && pulseOn(timer, channel) !== undefined);
		default:
			return pulseChannels(timer);
	}
}

function pulseChannels(timer: TimerProfile): TimerProfile['channels'] {
	return timer.channels.filter((channel) => pulseOn(timer, channel) !== undefined);
}
