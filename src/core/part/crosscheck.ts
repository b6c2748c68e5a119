import type { DocumentFinding, FindingDetails } from './finding.js';
import { Rational } from '../exact/index.js';
import { factorAllowed, readFactor } from './factors.js';
import { feedersOf, type ClockNodeProfile } from './node.js';
import { feedersFirst } from './order.js';
import type { PinProfile, Route } from './pins.js';
import type { TimerProfile } from './timer.js';

type Partly<T extends { id: string }> = T | { id: string };

/** A profile of which some elements may be known by their id only. */
export interface Salvaged {
	clock: Partly<ClockNodeProfile>[];
	core?: string;
	timers: Partly<TimerProfile>[];
	wiring?: Route[];
	pins?: Partly<PinProfile>[];
}

type Report = (path: DocumentFinding['path'], code: string, details?: FindingDetails) => void;

/** What in a profile contradicts something else in it. */
export function crossCheck(part: Salvaged): DocumentFinding[] {
	const found: DocumentFinding[] = [];
	const report: Report = (path, code, details) => found.push({ path, code, ...(details && { details }) });
	const nodes = uniqueIds(part.clock, ['clock'], report);
	const timers = uniqueIds(part.timers, ['timers'], report);
	uniqueIds(part.pins ?? [], ['pins'], report);
	part.clock.forEach((node, i) => 'kind' in node && checkNode(node, ['clock', i], part.clock, nodes, report));
	checkCycles(part.clock, report);
	if (part.core !== undefined) needsNode(part.core, ['core'], nodes, report);
	part.timers.forEach((timer, i) => 'kernel' in timer && checkTimer(timer, ['timers', i], nodes, report));
	const byId = new Map(part.timers.map((timer) => [timer.id, timer]));
	part.wiring?.forEach((route, i) => checkRoute(route, ['wiring', i], byId, report));
	part.pins?.forEach((pin, i) => 'functions' in pin && checkPin(pin, ['pins', i], nodes, timers, byId, report));
	return found;
}

function uniqueIds(elements: { id: string }[], path: DocumentFinding['path'], report: Report): Set<string> {
	const seen = new Set<string>();
	elements.forEach(({ id }, i) => {
		if (seen.has(id) && id !== '') report([...path, i, 'id'], 'id-twice', { id });
		seen.add(id);
	});
	return seen;
}

function needsNode(id: string, path: DocumentFinding['path'], nodes: Set<string>, report: Report): void {
	if (!nodes.has(id)) report(path, 'no-node', { id });
}

function checkNode(node: ClockNodeProfile, at: DocumentFinding['path'], all: Salvaged['clock'], nodes: Set<string>, report: Report): void {
	for (const id of new Set(feedersOf(node)))
		needsNode(id, [...at, id === (node as { watch?: string }).watch ? 'watch' : 'from'], nodes, report);
	if (node.min && node.max && Rational.parse(node.min.hz).compare(Rational.parse(node.max.hz)) > 0)
		report([...at, 'min'], 'limits-crossed');
	switch (node.kind) {
		case 'source':
			if (Rational.parse(node.ppm.lo).compare(Rational.parse(node.ppm.hi)) > 0) report([...at, 'ppm'], 'tolerance-crossed');
			return;
		case 'divide':
		case 'multiply':
			if (!Array.isArray(node.by) && node.by.from > node.by.to) report([...at, 'by'], 'range-reversed');
			else if (!factorAllowed(node.by, readFactor(node.reset))) report([...at, 'reset'], 'reset-no-factor', { reset: String(node.reset) });
			return;
		case 'select':
			if (!node.from.includes(node.reset)) report([...at, 'reset'], 'reset-no-input', { reset: node.reset });
			if (new Set(node.from).size < node.from.length) report([...at, 'from'], 'input-twice');
			return;
		case 'follow': {
			const watched = all.find((n) => n.id === node.watch);
			if (watched && 'kind' in watched && watched.kind !== 'divide') report([...at, 'watch'], 'watch-no-divide');
			return;
		}
		case 'gate':
			return;
	}
}

/** Each cycle once, where it closes. */
function checkCycles(clock: Salvaged['clock'], report: Report): void {
	const feeders = (node: Salvaged['clock'][number]) => ('kind' in node ? feedersOf(node) : []);
	feedersFirst(clock, feeders, (id) => {
		const at = clock.findIndex((node) => node.id === id);
		report(['clock', at, 'id'], 'clock-cycle', { id });
	});
}

function checkTimer(timer: TimerProfile, at: DocumentFinding['path'], nodes: Set<string>, report: Report): void {
	needsNode(timer.kernel, [...at, 'kernel'], nodes, report);
	if (timer.gate !== undefined) needsNode(timer.gate, [...at, 'gate'], nodes, report);
	const channels = uniqueIds(timer.channels, [...at, 'channels'], report);
	uniqueIds(timer.inputs ?? [], [...at, 'inputs'], report);
	timer.inputs?.forEach(({ id }, i) => {
		if (channels.has(id)) report([...at, 'inputs', i, 'id'], 'input-is-channel', { id });
	});
	timer.channels.forEach((channel, i) => {
		const { complement } = channel;
		if (complement?.clock !== undefined) needsNode(complement.clock, [...at, 'channels', i, 'complement', 'clock'], nodes, report);
		complement?.segments.forEach((s, k) => {
			if (s.to < s.from) report([...at, 'channels', i, 'complement', 'segments', k], 'segment-reversed');
		});
	});
	if (timer.modes.includes('preload') && !timer.preload) report([...at, 'preload'], 'preload-unsaid');
	if (timer.modes.includes('tap') && !timer.tap) report([...at, 'tap'], 'tap-unsaid');
	if (timer.tap && (timer.tap.from > timer.tap.to || timer.tap.to >= timer.width))
		report([...at, 'tap'], 'tap-outside', { last: timer.width - 1 });
	for (const side of ['a', 'b'] as const)
		if (timer.encoder && !channels.has(timer.encoder[side])) report([...at, 'encoder', side], 'no-channel', { id: timer.encoder[side] });
	checkEvents(timer, at, channels, report);
	checkLadder(timer.prescaler, [...at, 'prescaler'], report);
}

function checkEvents(timer: TimerProfile, at: DocumentFinding['path'], channels: Set<string>, report: Report): void {
	const check = (event: string, path: DocumentFinding['path']) => {
		const channel = event.split(':')[1];
		if (channel !== undefined && !channels.has(channel)) report(path, 'no-channel', { id: channel });
	};
	timer.sources?.forEach((event, i) => check(event, [...at, 'sources', i]));
	timer.paced?.forEach((event, i) => check(event, [...at, 'paced', i]));
	timer.interrupts?.forEach(({ on }, i) => on.forEach((event, k) => check(event, [...at, 'interrupts', i, 'on', k])));
}

function checkLadder(prescaler: TimerProfile['prescaler'], at: DocumentFinding['path'], report: Report): void {
	if (prescaler.kind === 'chain') prescaler.stages.forEach((stage, i) => checkLadder(stage, [...at, 'stages', i], report));
	if (prescaler.kind !== 'ladder') return;
	const codes = prescaler.steps.map((s) => s.code);
	codes.forEach((code, i) => {
		if (codes.indexOf(code) < i) report([...at, 'steps', i, 'code'], 'code-twice', { code });
	});
	if (prescaler.steps.every((s) => s.ratio === 0)) report([...at, 'steps'], 'ladder-stopped');
}

function checkRoute(
	{ from, to }: Route,
	at: DocumentFinding['path'],
	timers: Map<string, Salvaged['timers'][number]>,
	report: Report
): void {
	const sender = timers.get(from.timer);
	const receiver = timers.get(to.timer);
	if (!sender) report([...at, 'from', 'timer'], 'no-timer', { id: from.timer });
	else if ('kernel' in sender)
		from.sources.forEach((source, i) => {
			if (!sender.sources?.includes(source)) report([...at, 'from', 'sources', i], 'no-source', { source, timer: from.timer });
		});
	if (!receiver) report([...at, 'to', 'timer'], 'no-timer', { id: to.timer });
	else if ('kernel' in receiver && !receiver.inputs?.some((input) => input.id === to.input))
		report([...at, 'to', 'input'], 'no-input', { input: to.input, timer: to.timer });
}

function checkPin(
	pin: PinProfile,
	at: DocumentFinding['path'],
	nodes: Set<string>,
	timers: Set<string>,
	byId: Map<string, Salvaged['timers'][number]>,
	report: Report
): void {
	pin.functions.forEach((text, i) => {
		const path = [...at, 'functions', i];
		const [owner, element, side] = text.split('.');
		if (owner === 'clock') return needsNode(element, path, nodes, report);
		if (!timers.has(owner)) return report(path, 'no-timer', { id: owner });
		const timer = byId.get(owner)!;
		if (!('kernel' in timer)) return;
		const channel = timer.channels.find((c) => c.id === element);
		if (!channel && !timer.inputs?.some((input) => input.id === element)) report(path, 'no-element', { element, timer: owner });
		else if (side === 'n' && !channel?.complement) report(path, 'no-complement', { element, timer: owner });
	});
}
