import { Rational } from '../exact/index.js';
import { factorAllowed, readFactor } from './factors.js';
import { feedersOf, type ClockNodeProfile } from './node.js';
import { feedersFirst } from './order.js';
import type { PinProfile, Route } from './pins.js';
import type { TimerProfile } from './timer.js';

/** Something wrong in a profile, with the place: ["clock", 3, "from"]. */
export interface ProfileFinding {
	path: (string | number)[];
	message: string;
}

type Partly<T extends { id: string }> = T | { id: string };

/** A profile of which some elements may be known by their id only. */
export interface Salvaged {
	clock: Partly<ClockNodeProfile>[];
	core?: string;
	timers: Partly<TimerProfile>[];
	wiring?: Route[];
	pins?: Partly<PinProfile>[];
}

type Say = (path: ProfileFinding['path'], message: string) => void;

/** What in a profile contradicts something else in it. */
export function crossCheck(part: Salvaged): ProfileFinding[] {
	const found: ProfileFinding[] = [];
	const say: Say = (path, message) => found.push({ path, message });
	const nodes = uniqueIds(part.clock, ['clock'], say);
	const timers = uniqueIds(part.timers, ['timers'], say);
	uniqueIds(part.pins ?? [], ['pins'], say);
	part.clock.forEach((node, i) => 'kind' in node && checkNode(node, ['clock', i], part.clock, nodes, say));
	checkCycles(part.clock, say);
	if (part.core !== undefined) needsNode(part.core, ['core'], nodes, say);
	part.timers.forEach((timer, i) => 'kernel' in timer && checkTimer(timer, ['timers', i], nodes, say));
	const byId = new Map(part.timers.map((timer) => [timer.id, timer]));
	part.wiring?.forEach((route, i) => checkRoute(route, ['wiring', i], byId, say));
	part.pins?.forEach((pin, i) => 'functions' in pin && checkPin(pin, ['pins', i], nodes, timers, byId, say));
	return found;
}

function uniqueIds(elements: { id: string }[], path: ProfileFinding['path'], say: Say): Set<string> {
	const seen = new Set<string>();
	elements.forEach(({ id }, i) => {
		if (seen.has(id) && id !== '') say([...path, i, 'id'], `"${id}" stands twice`);
		seen.add(id);
	});
	return seen;
}

function needsNode(id: string, path: ProfileFinding['path'], nodes: Set<string>, say: Say): void {
	if (!nodes.has(id)) say(path, `there is no clock node "${id}"`);
}

function checkNode(node: ClockNodeProfile, at: ProfileFinding['path'], all: Salvaged['clock'], nodes: Set<string>, say: Say): void {
	for (const id of new Set(feedersOf(node)))
		needsNode(id, [...at, id === (node as { watch?: string }).watch ? 'watch' : 'from'], nodes, say);
	if (node.min && node.max && Rational.parse(node.min.hz).compare(Rational.parse(node.max.hz)) > 0)
		say([...at, 'min'], 'the lower limit lies above the upper one');
	switch (node.kind) {
		case 'source':
			if (Rational.parse(node.ppm.lo).compare(Rational.parse(node.ppm.hi)) > 0) say([...at, 'ppm'], 'lo lies above hi');
			return;
		case 'divide':
		case 'multiply':
			if (!Array.isArray(node.by) && node.by.from > node.by.to) say([...at, 'by'], 'the range ends before it begins');
			else if (!factorAllowed(node.by, readFactor(node.reset))) say([...at, 'reset'], `${node.reset} is none of its factors`);
			return;
		case 'select':
			if (!node.from.includes(node.reset)) say([...at, 'reset'], `"${node.reset}" is none of its inputs`);
			if (new Set(node.from).size < node.from.length) say([...at, 'from'], 'an input stands twice');
			return;
		case 'follow': {
			const watched = all.find((n) => n.id === node.watch);
			if (watched && 'kind' in watched && watched.kind !== 'divide') say([...at, 'watch'], 'only a divide node can be watched');
			return;
		}
		case 'gate':
			return;
	}
}

/** Each cycle once, where it closes. */
function checkCycles(clock: Salvaged['clock'], say: Say): void {
	const feeders = (node: Salvaged['clock'][number]) => ('kind' in node ? feedersOf(node) : []);
	feedersFirst(clock, feeders, (id) => {
		const at = clock.findIndex((node) => node.id === id);
		say(['clock', at, 'id'], `the clock of "${id}" comes back to itself`);
	});
}

function checkTimer(timer: TimerProfile, at: ProfileFinding['path'], nodes: Set<string>, say: Say): void {
	needsNode(timer.kernel, [...at, 'kernel'], nodes, say);
	if (timer.gate !== undefined) needsNode(timer.gate, [...at, 'gate'], nodes, say);
	const channels = uniqueIds(timer.channels, [...at, 'channels'], say);
	uniqueIds(timer.inputs ?? [], [...at, 'inputs'], say);
	timer.inputs?.forEach(({ id }, i) => {
		if (channels.has(id)) say([...at, 'inputs', i, 'id'], `"${id}" is a channel already`);
	});
	timer.channels.forEach((channel, i) => {
		const { complement } = channel;
		if (complement?.clock !== undefined) needsNode(complement.clock, [...at, 'channels', i, 'complement', 'clock'], nodes, say);
		complement?.segments.forEach((s, k) => {
			if (s.to < s.from) say([...at, 'channels', i, 'complement', 'segments', k], 'the segment ends before it begins');
		});
	});
	if (timer.modes.includes('preload') && !timer.preload)
		say([...at, 'preload'], 'counting from a preload wants "hardware" or "software" here');
	if (timer.modes.includes('tap') && !timer.tap) say([...at, 'tap'], 'a tapped bit wants the bits that can be tapped here');
	if (timer.tap && (timer.tap.from > timer.tap.to || timer.tap.to >= timer.width))
		say([...at, 'tap'], `bits 0 to ${timer.width - 1} can be tapped, from the lower to the higher`);
	for (const side of ['a', 'b'] as const)
		if (timer.encoder && !channels.has(timer.encoder[side])) say([...at, 'encoder', side], `there is no channel "${timer.encoder[side]}"`);
	checkEvents(timer, at, channels, say);
	checkLadder(timer.prescaler, [...at, 'prescaler'], say);
}

function checkEvents(timer: TimerProfile, at: ProfileFinding['path'], channels: Set<string>, say: Say): void {
	const check = (event: string, path: ProfileFinding['path']) => {
		const channel = event.split(':')[1];
		if (channel !== undefined && !channels.has(channel)) say(path, `there is no channel "${channel}"`);
	};
	timer.sources?.forEach((event, i) => check(event, [...at, 'sources', i]));
	timer.paced?.forEach((event, i) => check(event, [...at, 'paced', i]));
	timer.interrupts?.forEach(({ on }, i) => on.forEach((event, k) => check(event, [...at, 'interrupts', i, 'on', k])));
}

function checkLadder(prescaler: TimerProfile['prescaler'], at: ProfileFinding['path'], say: Say): void {
	if (prescaler.kind === 'chain') prescaler.stages.forEach((stage, i) => checkLadder(stage, [...at, 'stages', i], say));
	if (prescaler.kind !== 'ladder') return;
	const codes = prescaler.steps.map((s) => s.code);
	codes.forEach((code, i) => {
		if (codes.indexOf(code) < i) say([...at, 'steps', i, 'code'], `code ${code} stands twice`);
	});
	if (prescaler.steps.every((s) => s.ratio === 0)) say([...at, 'steps'], 'no step lets the counter run');
}

function checkRoute({ from, to }: Route, at: ProfileFinding['path'], timers: Map<string, Salvaged['timers'][number]>, say: Say): void {
	const sender = timers.get(from.timer);
	const receiver = timers.get(to.timer);
	if (!sender) say([...at, 'from', 'timer'], `there is no timer "${from.timer}"`);
	else if ('kernel' in sender)
		from.sources.forEach((source, i) => {
			if (!sender.sources?.includes(source)) say([...at, 'from', 'sources', i], `"${source}" is none of the sources of "${from.timer}"`);
		});
	if (!receiver) say([...at, 'to', 'timer'], `there is no timer "${to.timer}"`);
	else if ('kernel' in receiver && !receiver.inputs?.some((input) => input.id === to.input))
		say([...at, 'to', 'input'], `"${to.timer}" has no input "${to.input}"`);
}

function checkPin(
	pin: PinProfile,
	at: ProfileFinding['path'],
	nodes: Set<string>,
	timers: Set<string>,
	byId: Map<string, Salvaged['timers'][number]>,
	say: Say
): void {
	pin.functions.forEach((text, i) => {
		const path = [...at, 'functions', i];
		const [owner, element, side] = text.split('.');
		if (owner === 'clock') return needsNode(element, path, nodes, say);
		if (!timers.has(owner)) return say(path, `there is no timer "${owner}"`);
		const timer = byId.get(owner)!;
		if (!('kernel' in timer)) return;
		const channel = timer.channels.find((c) => c.id === element);
		if (!channel && !timer.inputs?.some((input) => input.id === element)) say(path, `"${owner}" has no channel or input "${element}"`);
		else if (side === 'n' && !channel?.complement) say(path, `"${owner}.${element}" has no complementary output`);
	});
}
