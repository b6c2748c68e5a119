import { figureOf, kindOf, type AimDerivation } from '../aims/index.js';
import { Rational } from '../exact/index.js';
import { stagesFor, type ChannelProfile, type OutputProfile, type PartProfile, type TimerProfile } from '../part/index.js';
import type { PlanDerivation } from '../plan/index.js';
import { planTimers } from '../predict/index.js';
import type { CodeRow, Codes, Quantities, QuantityValue } from '../registers/index.js';
import type { SimChannel, SimOutput, SimSystem, SimTimer } from '../sim/index.js';

/** What a plan wants of every unit: its clock tree, its pins, then its timers, those that are triggered before those that trigger them. */
export function quantitiesOf(derivation: PlanDerivation, { timers }: SimSystem = planTimers(derivation)): Quantities {
	const units = new Map<string, Map<string, QuantityValue>>();
	const clock = clockQuantities(derivation);
	if (clock.size > 0) units.set('clock', clock);
	const pins = pinQuantities(derivation);
	if (pins.size > 0) units.set('pins', pins);
	const profiles = new Map(derivation.plan.part.timers.map((timer) => [timer.id, timer]));
	for (const timer of followersFirst(timers)) {
		const profile = profiles.get(timer.id);
		if (!profile) continue;
		const own = derivation.aims.filter(({ aim, use }) => aim.timer === timer.id && use !== undefined);
		units.set(timer.id, timerQuantities(derivation, timer, profile, own));
	}
	for (const profile of profiles.values()) {
		const own = derivation.aims.filter(({ aim, use }) => aim.timer === profile.id && use !== undefined);
		if (own.length > 0 && !units.has(profile.id)) units.set(profile.id, listenerQuantities(own, profile));
	}
	return units;
}

/** A part's own codes: ladder steps and dead-time segments, by unit and quantity. */
export function codesOf(part: PartProfile): Codes {
	return new Map(part.timers.map((timer) => [timer.id, new Map([...ladderCodes(timer), ...deadCodes(timer)])]));
}

function ladderCodes({ prescaler }: TimerProfile): [string, CodeRow[]][] {
	const steps = (one: typeof prescaler): CodeRow[] =>
		one.kind === 'ladder' ? one.steps.map(({ ratio, code }): CodeRow => [ratio, code]) : [];
	if (prescaler.kind === 'chain') return prescaler.stages.map((stage, i) => [`prescale:${i + 1}`, steps(stage)]);
	return [['prescale', steps(prescaler)]];
}

function deadCodes({ channels }: TimerProfile): [string, CodeRow[]][] {
	return channels.flatMap(({ id, complement }): [string, CodeRow[]][] => {
		if (!complement) return [];
		return (complement.separate ? [`dead:${id}:rise`, `dead:${id}:fall`] : [`dead:${id}`]).map((name) => [name, complement.segments]);
	});
}

/** Timers before those that start, reset or clock them. */
function followersFirst(timers: readonly SimTimer[]): SimTimer[] {
	const leads = (timer: SimTimer) => timer.trigger && 'timer' in timer.trigger.from && timer.trigger.from.timer;
	const depth = (timer: SimTimer, seen = new Set<string>()): number => {
		const leader = leads(timer);
		const one = leader ? timers.find(({ id }) => id === leader) : undefined;
		return one && !seen.has(one.id) ? 1 + depth(one, seen.add(one.id)) : 0;
	};
	return timers
		.map((timer) => ({ timer, depth: depth(timer) }))
		.sort((a, b) => b.depth - a.depth)
		.map(({ timer }) => timer);
}

function clockQuantities({ plan, clocks, aims }: PlanDerivation): Map<string, QuantityValue> {
	const found = new Map<string, QuantityValue>();
	const used = new Set(aims.flatMap(({ timer }) => (timer ? clocks.path(timer.kernel).map(({ node }) => node.id) : [])));
	for (const node of plan.part.clock) {
		const set = clocks.values[node.id];
		const name = `clock:${node.id}`;
		if ((node.kind === 'source' || node.kind === 'multiply') && used.has(node.id)) found.set(`${name}:on`, 1);
		if (node.kind === 'source' || set === undefined) continue;
		if (typeof set === 'boolean') found.set(name, set ? 1 : 0);
		else if (typeof set === 'string') found.set(name, set);
		else found.set(name, set.isInteger ? Number(set.num) : set.toString());
	}
	return found;
}

function pinQuantities({ pins, aims }: PlanDerivation): Map<string, QuantityValue> {
	const found = new Map<string, QuantityValue>();
	for (const { aim, what, pin } of pins) {
		if (!pin) continue;
		const derived = aims.find((one) => one.aim.id === aim);
		const name = derived?.timer && `${derived.timer.id}.${what}`;
		if (!derived || name === undefined || !pin.functions.includes(name)) continue;
		found.set(`pin:${pin.id}`, name);
		const comesIn = derived.timer?.inputs?.some(({ id }) => id === what);
		found.set(`pin:${pin.id}:out`, kindOf(derived.aim).drives && !comesIn ? 1 : 0);
	}
	return found;
}

function timerQuantities(
	derivation: PlanDerivation,
	timer: SimTimer,
	profile: TimerProfile,
	own: readonly AimDerivation[]
): Map<string, QuantityValue> {
	const found = new Map<string, QuantityValue>([...countingQuantities(timer, profile), ...kindQuantities(own, profile)]);
	const off = new Set(own.flatMap(({ aim }) => (aim.enable === 'off' ? kindOf(aim).channels(aim, profile) : [])));
	for (const channel of timer.channels) {
		const known = profile.channels.find(({ id }) => id === channel.id);
		const drive = off.has(channel.id) ? 0 : 1;
		if (known) for (const [name, value] of channelQuantities(derivation, profile, channel, known, drive)) found.set(name, value);
	}
	const driving = timer.channels.filter(({ output }) => output.model !== 'none');
	if (profile.outputEnable && driving.length > 0) found.set('outputs', driving.some(({ id }) => !off.has(id)) ? 1 : 0);
	for (const event of eventsAsked(own, profile)) {
		found.set(event, 1);
		// The first event comes after a whole step, and so does each that software adds.
		if (timer.advance !== undefined && event.startsWith('interrupt:match:'))
			found.set(event.replace('interrupt:match', 'compare'), timer.advance);
	}
	const sent = sentEvent(derivation, timer.id);
	if (sent !== undefined && profile.sources && profile.sources.length > 1) found.set('send', sent);
	return found;
}

/** A timer that drives nothing: it listens. */
function listenerQuantities(own: readonly AimDerivation[], profile: TimerProfile): Map<string, QuantityValue> {
	const set = Object.assign({}, ...own.map((derivation) => kindOf(derivation.aim).set(derivation))) as Record<string, QuantityValue>;
	const prescale = own.find(({ use }) => use)!.use!.prescale;
	const found = new Map<string, QuantityValue>([...prescales(prescale, profile), ...kindQuantities(own, profile)]);
	const mode = offeredMode(String(set.mode ?? 'free'), profile);
	if (profile.modes.length > 1) found.set('mode', mode);
	if (mode !== 'free') found.set('reload', set.reload ?? 2 ** profile.width - 1);
	const start = own.map((one) => figureOf(one, 'start')).find((one) => one !== undefined);
	if (start?.isInteger && start.sign > 0) found.set('count', Number(start.num));
	for (const event of eventsAsked(own, profile)) found.set(event, 1);
	return found;
}

/** How it counts. */
function countingQuantities(timer: SimTimer, profile: TimerProfile): [string, QuantityValue][] {
	const found: [string, QuantityValue][] = prescales(timer.prescale, profile);
	const put = (name: string, value: QuantityValue, offered = true) => {
		if (offered) found.push([name, value]);
	};
	const mode = offeredMode(timer.mode, profile);
	const free = timer.mode === 'free' && mode !== 'free';
	put('mode', mode, profile.modes.length > 1);
	if (free) put('reload', 2 ** profile.width - 1);
	else if (['up', 'down', 'updown', 'clear'].includes(timer.mode)) put('reload', timer.reload);
	if (timer.mode === 'preload') put('preload', timer.preload);
	if (timer.bit !== undefined) put('tap', timer.bit);
	put('repeat', timer.repeat, profile.repeat !== undefined);
	put('update-at', timer.updateAt, (profile.update?.length ?? 0) > 1);
	put('one-shot', timer.oneShot ? 1 : 0, profile.oneShot !== undefined);
	put('buffer:reload', timer.buffered.reload ? 1 : 0, profile.buffered?.reload === 'either');
	const compare = timer.channels.every(({ buffered }) => buffered ?? timer.buffered.compare);
	put('buffer:compare', compare ? 1 : 0, profile.buffered?.compare === 'either');
	return found;
}

/** A counter that runs freely where there is no such way counts over its whole width. */
function offeredMode(mode: string, { modes }: TimerProfile): string {
	if (mode !== 'free' || modes.includes('free')) return mode;
	return modes.includes('up') ? 'up' : modes[0];
}

function prescales(prescale: number, { prescaler }: TimerProfile): [string, QuantityValue][] {
	if (prescaler.kind === 'fixed') return [];
	if (prescaler.kind !== 'chain') return [['prescale', prescale]];
	const stages = stagesFor(prescaler, prescale) ?? [];
	return stages.flatMap(({ ratio }, i): [string, QuantityValue][] =>
		prescaler.stages[i].kind === 'fixed' ? [] : [[`prescale:${i + 1}`, ratio]]
	);
}

/** What a kind says of its own registers besides: inputs, triggers, captures; names that need a channel have theirs. */
function kindQuantities(own: readonly AimDerivation[], profile: TimerProfile): [string, QuantityValue][] {
	const ours = new Set(['trigger', 'action', 'source', 'encoder', 'retrigger']);
	const offers: Record<string, boolean> = {
		retrigger: (profile.oneShot?.retrigger.length ?? 0) > 1,
		encoder: profile.encoder !== undefined,
		trigger: (profile.inputs?.length ?? 0) > 0
	};
	return own.flatMap((derivation) =>
		Object.entries(kindOf(derivation.aim).set(derivation)).filter(
			([name]) => (ours.has(name) && (offers[name] ?? true)) || /^(capture|edge|every|filter):/.test(name)
		)
	);
}

function channelQuantities(
	{ clocks }: PlanDerivation,
	profile: TimerProfile,
	channel: SimChannel,
	known: ChannelProfile,
	drive: 0 | 1
): [string, QuantityValue][] {
	const { id, output } = channel;
	const found: [string, QuantityValue][] = [[`compare:${id}`, channel.compare]];
	if (output.model === 'none') return found;
	const preset = known.outputs.findIndex((one) => isPreset(one, output));
	if (preset >= 0) found.push([`output:${id}`, preset]);
	const ends = channel.dead === undefined ? [''] : ['', ':n'];
	for (const end of ends) found.push([`polarity:${id}${end}`, channel.inverted ? 'low' : 'high'], [`drive:${id}${end}`, drive]);
	if (channel.dead === undefined || !known.complement) return found;
	const kernel = clocks.rate(profile.kernel);
	const steps = known.complement.clock === undefined ? null : clocks.rate(known.complement.clock);
	const dead = steps && kernel ? Number(Rational.int(channel.dead).mul(steps).div(kernel).floor()) : channel.dead;
	for (const side of known.complement.separate ? [':rise', ':fall'] : ['']) found.push([`dead:${id}${side}`, dead]);
	return found;
}

function isPreset(one: OutputProfile, output: SimOutput): boolean {
	if (one.model === 'level') return output.model === 'level' && one.sense === output.sense;
	if (output.model !== 'action' || one.edge !== output.edge) return false;
	const actions = [one.zero, one.top, one.matchUp, one.matchDown].map((action) => action ?? 'none');
	return actions.join() === [output.zero, output.top, output.matchUp, output.matchDown].join();
}

/** Interrupts, and events that pace a transfer, that the aims on a timer need. */
function eventsAsked(own: readonly AimDerivation[], profile: TimerProfile): string[] {
	return own.flatMap((derivation) => askedBy(derivation, profile));
}

/** Those that one aim needs, the one that it is served by first. */
export function askedBy(derivation: AimDerivation, profile: TimerProfile): string[] {
	const offered = new Set((profile.interrupts ?? []).flatMap(({ on }) => on));
	const { aim } = derivation;
	const paced = Object.keys(kindOf(aim).set(derivation)).filter(
		(name) => name.startsWith('paced:') && profile.paced?.includes(name.slice(6) as never)
	);
	if (paced.length > 0) return paced;
	if (!kindOf(aim).served?.(aim) || aim.interrupt === 'off') return [];
	const captured = Object.keys(kindOf(aim).set(derivation)).filter((name) => name.startsWith('capture:'));
	const wraps = ['update', 'overflow'];
	const wanted = [...captured, ...wraps, ...profile.channels.map(({ id }) => `match:${id}`)];
	// Captures tell nothing of the wraps between them: who counts those is told of them too.
	const besides = captured.length > 0 && 'overflows' in aim && aim.overflows === 'counted' ? wraps : [];
	return [wanted, besides].flatMap((events) => {
		const event = events.find((one) => offered.has(one as never));
		return event === undefined ? [] : [`interrupt:${event}`];
	});
}

/** The event that followers of a timer wait for. */
function sentEvent({ aims }: PlanDerivation, timer: string): string | undefined {
	const follower = aims.find(({ route }) => route && aims.find(({ aim }) => aim.id === route.leader)?.aim.timer === timer);
	return follower?.route?.source;
}
