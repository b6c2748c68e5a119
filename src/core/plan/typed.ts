import { readRate, readTime, type Aim, type AimKindName } from '../aims/index.js';
import { newAim, placedOn } from './place.js';
import type { Plan } from './document.js';

/** An aim as one types it: its kind, what of it was said, and the pin. */
export interface TypedAim {
	kind: AimKindName;
	fields: Record<string, string>;
	pin?: string;
}

/** A number with its unit: "1.2 kHz", "500ns", "35 %", "1/3". */
const Q = String.raw`([+-]?\d[\d.,_]*(?:e[+-]?\d+)?(?:\s*/\s*\d+)?\s*(?:%|°|[a-zA-Zµ]+)?)`;

interface Form {
	words: RegExp;
	read: (found: (string | undefined)[]) => Omit<TypedAim, 'pin'> | undefined;
}

/** What is left out keeps what a fresh aim says. */
function said(kind: AimKindName, fields: Record<string, string | undefined>): Omit<TypedAim, 'pin'> {
	return { kind, fields: Object.fromEntries(Object.entries(fields).flatMap(([name, text]) => (text ? [[name, text.trim()]] : []))) };
}

const form = (pattern: string, read: Form['read']): Form => ({ words: new RegExp(`^${pattern}$`, 'i'), read });

/** The ways of saying an aim, the most particular first. */
const FORMS: Form[] = [
	form(`(?:tick )?every ${Q}`, ([every]) => said('tick', { every })),
	form(`tick (?:at )?${Q}`, ([every]) => said('tick', { every })),
	form(String.raw`encoder(?: (0\s*\.\.+\s*\d+|[\d.]+ (?:turns?|counts?)))?(?: (?:of )?(\d+) (?:cycles|lines))?`, ([range, cycles]) =>
		said('encoder', { range, cycles })
	),
	form(`(?:measure )?widths? ${Q} (?:to|-|–) ${Q}`, ([shortest, longest]) => said('width', { shortest, longest })),
	form(`measure ${Q} (?:to|-|–) ${Q}`, ([from, to]) =>
		isTime(from) && isTime(to) ? said('width', { shortest: from, longest: to }) : said('capture', { lowest: from, highest: to })
	),
	form(`debounce ${Q}`, ([bounce]) => (bounce && isTime(bounce) ? said('oneshot', { bounce, width: longer(bounce) }) : undefined)),
	form(`(?:one-?shot|pulse) (?:of )?${Q}(?: after ${Q})?`, ([width, delay]) => said('oneshot', { width, delay })),
	form(`toggle (?:at )?${Q}`, ([rate]) => said('toggle', { rate })),
	form(`(?:pattern|stream) (?:at )?${Q}`, ([rate]) => said('pattern', { rate })),
	form(`(sine|triangle|trapezoid)(?: of)? ${Q}(?: (?:on|over|at) ${Q})?`, ([shape, base, carrier]) =>
		said('table', { shape: shape?.toLowerCase(), base, carrier })
	),
	form(`follow(?:er)?(?: by)? ${Q}`, ([lag]) => said('follower', { lag })),
	form(`${Q}(?: ${Q})? pair(?:,? (?:dead(?: time)? )?${Q})?`, ([rate, duty, dead]) => said('pair', { rate, duty, dead })),
	form(`${Q}(?:,? ${Q})?(?: (?:pulses?|pwm))?`, ([rate, duty]) => (hasUnit(rate) ? said('pwm', { rate, duty }) : undefined))
];

/** Reads a line such as "1.2 kHz 35 % on B6" or "every 10 ms"; undefined for anything else. */
export function readTypedAim(line: string): TypedAim | undefined {
	const [, text, pin] = /^(.*?)(?:\s+on\s+(?:pin\s+)?([A-Za-z]\w*))?$/.exec(line.trim()) ?? [];
	for (const { words, read } of FORMS) {
		const found = words.exec(text ?? '');
		const made = found && read(found.slice(1));
		if (made) return { ...made, ...(pin && { pin }) };
	}
	return undefined;
}

function isTime(text: string | undefined): boolean {
	return text !== undefined && readTime(text).ok;
}

/** A bare number could be anything: a rate says its unit. */
function hasUnit(text: string | undefined): boolean {
	return text !== undefined && readRate(text).ok && /[a-z]/i.test(text);
}

/** A pulse that outlasts the bouncing by a fifth. */
function longer(time: string): string {
	const read = readTime(time);
	return read.ok ? `${read.value.toNumber() * 1.2e3} ms` : time;
}

/** The typed aim on the places of a plan's part that could have it, the likeliest first: where its pin leads, or where a fresh one would go. */
export function placesOf(typed: TypedAim, id: string, title: string, plan: Plan): Aim[] {
	const dressed = (aim: Aim): Aim => ({ ...aim, ...pick(typed.fields, aim) });
	if (typed.pin === undefined) {
		const aim = newAim(typed.kind, id, title, plan);
		return aim ? [dressed(aim)] : [];
	}
	const wanted = typed.pin.toLowerCase();
	const pin = plan.part.pins?.find((one) => one.id.toLowerCase() === wanted || one.name.toLowerCase() === wanted);
	return (pin?.functions ?? []).flatMap((name): Aim[] => {
		const [timer, channel] = name.split('.');
		const profile = plan.part.timers.find((one) => one.id === timer);
		const fresh = profile && newAim(typed.kind, id, title, plan);
		const placed = profile && fresh && placedOn({ ...fresh, timer }, profile, plan);
		if (!placed || !('channel' in placed) || !profile.channels.some((one) => one.id === channel)) return [];
		return [dressed({ ...placed, channel, pins: { [channel]: pin!.id } })];
	});
}

/** Fields that this kind of aim has. */
function pick(fields: Record<string, string>, aim: Aim): Record<string, string> {
	return Object.fromEntries(Object.entries(fields).filter(([name]) => Object.hasOwn(aim, name)));
}
