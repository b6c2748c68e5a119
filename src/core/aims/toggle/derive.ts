import { Rational } from '../../exact/index.js';
import type { ChannelProfile, OutputProfile, TimerProfile } from '../../part/index.js';
import { largest } from '../../timer/index.js';
import { readTolerance } from '../common/fields.js';
import type { ToggleAim } from './schema.js';
import { DerivationDraft } from '../common/draft.js';
import type { AimContext } from '../common/context.js';
import type { AimDerivation } from '../common/derivation.js';
import { choosePeriod, counterLink, periodLinks } from '../common/period.js';

export type ActionOutput = Extract<OutputProfile, { model: 'action' }>;

/** An output that toggles once a period, and the way of counting in which it does. */
export interface Toggling {
	mode: 'up' | 'down';
	output: ActionOutput;
	/** The event at which it turns; a match takes a compare. */
	at: 'zero' | 'top' | 'match';
}

/** A pin that toggles once a period (timers.md 5): half the event rate, high for half of the time. */
export function deriveToggle(aim: ToggleAim, context: AimContext): AimDerivation<ToggleAim> {
	const draft = new DerivationDraft(aim, context);
	const { derivation } = draft;
	const rate = draft.rate('rate', aim.rate);
	const tolerance = draft.take('tolerance', readTolerance(aim.tolerance, rate));
	const { timer, kernel } = derivation;
	if (!timer || !kernel) return derivation;
	const channel = timer.channels.find((c) => c.id === aim.channel);
	const toggling = channel && togglingOn(timer, channel);
	if (!channel) draft.fault({ code: 'place-missing', what: aim.channel, timer: timer.name });
	else if (!toggling) draft.fault({ code: 'cannot-job', timer: timer.name, kind: 'toggle' });
	if (!toggling || !rate) return derivation;
	const { mode, at } = toggling;
	const best = choosePeriod(draft, { mode, rule: timer.rule, width: timer.width }, rate, tolerance, { share: Rational.int(2) });
	if (!best) return derivation;
	derivation.strip = periodLinks(timer, best);
	if (at === 'match') {
		const [first, last] = valuesHeld(timer, mode, best.reload);
		const held = draft.held('compare', first === 0 ? 0 : 1, last, timer.width);
		if (held === null) return derivation;
		// Any value that is held will do; the last of the period keeps the first edge a whole period off.
		derivation.strip.push(counterLink(timer, 'compare', held ?? (mode === 'up' ? last : first)));
	}
	const hz = best.hz.div(Rational.int(2));
	draft.figure('rate', hz, 'Hz');
	draft.figure('error', best.ppm, 'ppm');
	draft.figure('half', best.hz.inverse(), 's');
	draft.figure('period', hz.inverse(), 's');
	draft.formula('toggle', { kernel, prescale: Rational.int(best.prescale), ticks: Rational.int(best.ticks), hz });
	return derivation;
}

/** The least and the largest value that the counter holds in a period. */
function valuesHeld({ rule, width }: TimerProfile, mode: 'up' | 'down', reload: number): [number, number] {
	if (rule === 'inclusive') return [0, reload];
	if (reload === 0) return [0, largest(width)];
	return mode === 'up' ? [0, reload - 1] : [1, reload];
}

/** The first output of a channel that toggles once a period, and does nothing else. */
export function togglingOn(timer: TimerProfile, channel: ChannelProfile): Toggling | undefined {
	for (const mode of timer.modes) {
		if (mode !== 'up' && mode !== 'down') continue;
		for (const output of channel.outputs) {
			const at = output.model === 'action' ? turningPoint(output, timer, mode) : undefined;
			if (at && output.model === 'action') return { mode, output, at };
		}
	}
	return undefined;
}

/** The one event that acts on an output in a way of counting, where it toggles it. */
function turningPoint(output: ActionOutput, { rule }: TimerProfile, mode: 'up' | 'down'): Toggling['at'] | undefined {
	// An exclusive counter never holds its other end.
	const ends = rule === 'inclusive' ? (['zero', 'top'] as const) : mode === 'up' ? (['zero'] as const) : (['top'] as const);
	const acting = [
		...ends.map((at) => ({ at, action: output[at] })),
		{ at: 'match' as const, action: mode === 'up' ? output.matchUp : output.matchDown }
	];
	const [only, ...more] = acting.filter(({ action }) => action !== undefined);
	return more.length === 0 && only?.action === 'toggle' ? only.at : undefined;
}
