import type { OutputProfile, PartProfile, TimerProfile } from '../part/index.js';
import { Rational } from '../exact/index.js';
import type { PlanClocks } from '../plan/index.js';
import type { QuantityValue, ReadBack } from '../registers/index.js';
import type { SimChannel, SimMode, SimOutput, SimSystem, SimTimer } from '../sim/index.js';

/**
 * The simulated system as registers set it: of each timer what could be read back; inputs, starts, tables and what software does are the plan's,
 * as no register says them.
 */
export function systemAsRead(planned: SimSystem, { quantities }: ReadBack, part: PartProfile, clocks: PlanClocks): SimSystem {
	return {
		...planned,
		timers: planned.timers.map((timer) => {
			const profile = part.timers.find(({ id }) => id === timer.id);
			const own = quantities.get(timer.id);
			return profile && own ? timerAsRead(timer, profile, own, clocks) : timer;
		})
	};
}

type Own = ReadonlyMap<string, QuantityValue>;

function timerAsRead(timer: SimTimer, profile: TimerProfile, own: Own, clocks: PlanClocks): SimTimer {
	const number = (name: string, otherwise: number) => (own.has(name) ? Number(own.get(name)) : otherwise);
	const flag = (name: string, otherwise: boolean) => (own.has(name) ? Number(own.get(name)) === 1 : otherwise);
	const word = <T extends string>(name: string, otherwise: T) => (own.has(name) ? (String(own.get(name)) as T) : otherwise);
	// A counter over its whole width runs freely, whatever the way is called.
	const mode = word<SimMode>('mode', timer.mode);
	// Where software sets the next event, the register of the period means nothing.
	const reload = ['up', 'down', 'updown', 'clear'].includes(mode) ? number('reload', timer.reload) : timer.reload;
	const free = timer.mode === 'free' && !profile.modes.includes('free') && reload === 2 ** profile.width - 1;
	const compare = flag('buffer:compare', timer.buffered.compare);
	return {
		...timer,
		prescale: prescaleAsRead(profile, own, timer.prescale),
		mode: free ? 'free' : mode,
		reload: free ? timer.reload : reload,
		preload: number('preload', timer.preload),
		...(timer.bit !== undefined && { bit: number('tap', timer.bit) }),
		repeat: number('repeat', timer.repeat),
		updateAt: word('update-at', timer.updateAt),
		oneShot: flag('one-shot', timer.oneShot),
		buffered: { reload: flag('buffer:reload', timer.buffered.reload), compare },
		channels: timer.channels.map((channel) => channelAsRead(channel, profile, own, clocks))
	};
}

function prescaleAsRead({ prescaler }: TimerProfile, own: Own, planned: number): number {
	if (prescaler.kind === 'fixed') return planned;
	if (prescaler.kind !== 'chain') return own.has('prescale') ? Number(own.get('prescale')) : planned;
	const ratios = prescaler.stages.map((stage, i) => (stage.kind === 'fixed' ? stage.ratio : own.get(`prescale:${i + 1}`)));
	return ratios.includes(undefined) ? planned : ratios.reduce<number>((product, ratio) => product * Number(ratio), 1);
}

function channelAsRead(channel: SimChannel, profile: TimerProfile, own: Own, clocks: PlanClocks): SimChannel {
	const { id } = channel;
	const known = profile.channels.find((one) => one.id === id);
	const compare = own.has(`compare:${id}`) ? Number(own.get(`compare:${id}`)) : channel.compare;
	if (!known || channel.output.model === 'none') return { ...channel, compare };
	const preset = own.get(`output:${id}`);
	const polarity = own.get(`polarity:${id}`);
	const shape = preset === undefined ? undefined : known.outputs.at(Number(preset));
	const output = shape ? outputAsRead(shape, channel.output) : channel.output;
	return {
		...channel,
		compare,
		output,
		inverted: polarity === undefined ? channel.inverted : polarity === 'low',
		...(channel.dead !== undefined && { dead: deadAsRead(known, profile, own, clocks, channel.dead) })
	};
}

/** The level with which an output begins is the plan's. */
function outputAsRead(preset: OutputProfile, planned: SimOutput): SimOutput {
	if (preset.model === 'level') return { model: 'level', sense: preset.sense };
	const { edge, initial, zero = 'none', top = 'none', matchUp = 'none', matchDown = 'none' } = preset;
	const begins = initial ?? (planned.model === 'action' ? planned.initial : 0);
	return { model: 'action', edge, initial: begins, zero, top, matchUp, matchDown };
}

/** In kernel cycles. */
function deadAsRead(
	channel: TimerProfile['channels'][number],
	profile: TimerProfile,
	own: Own,
	clocks: PlanClocks,
	planned: number
): number {
	const { complement, id } = channel;
	const read = own.get(`dead:${id}`) ?? own.get(`dead:${id}:rise`);
	if (!complement || read === undefined) return planned;
	const [kernel, steps] = [clocks.rate(profile.kernel), complement.clock === undefined ? null : clocks.rate(complement.clock)];
	return kernel && steps ? Number(Rational.int(Number(read)).mul(kernel).div(steps).floor()) : Number(read);
}
