import { z } from 'zod';
import { captureKind } from './capture/index.js';
import type { AimDerivation } from './common/derivation.js';
import type { AimKind } from './common/kind.js';
import type { AnyAim } from './common/schema.js';
import { turnedRelations, type Relation } from './common/relations.js';
import { turnedDuty, turnedRate, type Turned } from './common/turned.js';
import { dividedKind } from './divided/index.js';
import { encoderKind } from './encoder/index.js';
import { followerKind } from './follower/index.js';
import { oneShotKind } from './oneshot/index.js';
import { pairKind } from './pair/index.js';
import { patternKind } from './pattern/index.js';
import { pwmKind } from './pwm/index.js';
import { tableKind } from './table/index.js';
import { tickKind } from './tick/index.js';
import { toggleKind } from './toggle/index.js';
import { widthKind } from './width/index.js';

/** Every kind of aim, in the order in which they are offered: a new one is a line here. */
const KINDS = [
	pwmKind,
	pairKind,
	followerKind,
	toggleKind,
	tableKind,
	tickKind,
	dividedKind,
	oneShotKind,
	patternKind,
	captureKind,
	widthKind,
	encoderKind
] as const;

/** An aim of a plan: one of all kinds. */
export type Aim = z.infer<(typeof KINDS)[number]['schema']>;
export type AimKindName = Aim['kind'];
/** An aim of one kind. */
export type AimOf<K extends AimKindName> = Extract<Aim, { kind: K }>;

/** The names of all kinds, in the order in which they are offered. */
export const AIM_KINDS: readonly AimKindName[] = KINDS.map(({ kind }) => kind);

/** One aim of any kind. */
export const aimSchema: z.ZodType<Aim> = z.discriminatedUnion('kind', KINDS.map(({ schema }) => schema) as never);

const byName = new Map<string, AimKind>(KINDS.map((kind) => [kind.kind, kind as unknown as AimKind]));

/** What is known of a kind. Throws on a name that is none: a plan that was read has known ones only. */
export function aimKind(name: string): AimKind {
	const kind = byName.get(name);
	if (!kind) throw new Error(`no kind of aim is called "${name}"`);
	return kind;
}

/** What is known of an aim's kind. */
export function kindOf({ kind }: AnyAim): AimKind {
	return aimKind(kind);
}

/** An aim's formulas turned around: each register that can be worked out anew while it runs. */
export function turnedOf(derivation: AimDerivation): Turned[] {
	const { pulse, aim } = derivation;
	const own = kindOf(aim).turned?.(derivation) ?? [];
	return [turnedRate(derivation), pulse && turnedDuty(pulse), ...own].filter((one) => one !== undefined);
}

/** An aim of a kind as it begins, with what is said otherwise. */
export function freshAim<K extends AimKindName>(
	kind: K,
	id: string,
	name: string,
	timer: string,
	change: Partial<AimOf<K>> = {}
): AimOf<K> {
	const head = { id, kind, name, group: '', timer, pins: {}, locks: {}, note: '' };
	return { ...head, ...aimKind(kind).fresh, ...change } as unknown as AimOf<K>;
}

/** All that can be read of an aim against what is set, each once. */
export function relationsOf(derivation: AimDerivation, other: (id: string) => AimDerivation | undefined): Relation[] {
	const own = kindOf(derivation.aim).relations?.(derivation, other) ?? [];
	const all = [...own, ...turnedRelations(turnedOf(derivation), derivation)];
	return all.filter(({ id }, i) => all.findIndex((one) => one.id === id) === i);
}
