import type { Component } from 'svelte';
import type { AimDerivation, AnyAim } from '../../../../core/aims/index.js';
import type { Plan } from '../../../../core/plan/index.js';
import type { Token } from '../../../components/tokens.js';
import type { PlanSession } from '../../../session/session.svelte.js';
import type { KindWords } from './words.js';

/** What a sentence may name of its plan. */
export type SentencePlan = Pick<Plan, 'part' | 'aims'>;

/** What an editor below a sentence is given. */
export interface EditorProps<A extends AnyAim = AnyAim> {
	session: PlanSession;
	aim: A;
	fields: AimDerivation['fields'];
}

/** How a person sees and says one kind of aim. */
export interface AimView<A extends AnyAim = AnyAim> extends KindWords {
	/** A small drawn wave of it, as a path within 132 x 34. */
	sketch: string;
	/** A line that says such an aim when it is typed; empty: none does. */
	example: string;
	/** What is wished for, in short. */
	wish(aim: A): string;
	/** The sentence that says the aim, with its fields and choices in their places. */
	sentence(aim: A, plan: SentencePlan): Token[];
	/** A second sentence of what is rarely said. */
	more?(aim: A, plan: SentencePlan): Token[];
	/** The second sentence says something: it is shown even while the working is closed. */
	saysMore?(aim: A): boolean;
	/** What a choice stands at, where that is no field of its own. */
	chosen?(aim: A, choice: string): string | undefined;
	/** The aim with what was chosen; left out: the field of that name is set. */
	withChoice?(aim: A, choice: string, value: string): A;
	/** Choices that another timer does not decide. */
	keeps?: readonly string[];
	/** An editor below the sentence. */
	editor?: Component<EditorProps<A>>;
	/** Is the editor wanted now? Left out: always. */
	edits?(aim: A): boolean;
}
