import { Rational } from '../../exact/index.js';
import type { ChannelProfile, CountingMode } from '../../part/index.js';
import { largest } from '../../timer/index.js';
import { readRate, readTolerance } from '../common/fields.js';
import type { ToggleAim } from './schema.js';
import { DerivationDraft } from '../common/draft.js';
import type { AimContext } from '../common/context.js';
import type { AimDerivation } from '../common/derivation.js';
import { choosePeriod, counterLink, periodLinks } from '../common/period.js';

/** A pin that toggles once a period (timers.md 5): half the event rate, high for half of the time. */
export function deriveToggle(aim: ToggleAim, context: AimContext): AimDerivation<ToggleAim> {
	const draft = new DerivationDraft(aim, context);
	const { derivation } = draft;
	const rate = draft.take('rate', readRate(aim.rate));
	const tolerance = draft.take('tolerance', readTolerance(aim.tolerance, rate));
	const { timer, kernel } = derivation;
	if (!timer || !kernel) return derivation;
	const channel = timer.channels.find((c) => c.id === aim.channel);
	const mode = timer.modes.find((one) => (one === 'up' || one === 'down') && channel && toggles(channel, one)) as 'up' | 'down' | undefined;
	if (!channel) draft.fault({ code: 'place-missing', what: aim.channel, timer: timer.name });
	else if (!mode) draft.fault({ code: 'cannot-job', timer: timer.name, kind: 'toggle' });
	if (!mode || !rate) return derivation;
	const best = choosePeriod(draft, { mode, rule: timer.rule, width: timer.width }, rate, tolerance, { share: Rational.int(2) });
	const held = draft.held('compare', 0, best ? Math.min(largest(timer.width), best.reload) : largest(timer.width), timer.width);
	if (!best || held === null) return derivation;
	const hz = best.hz.div(Rational.int(2));
	// Anywhere within the period will do; the last value held keeps the first edge a whole period off.
	const last = timer.rule === 'inclusive' || best.reload === 0 ? best.reload : best.reload - 1;
	derivation.strip = [...periodLinks(timer, best), counterLink(timer, 'compare', held ?? (mode === 'up' ? last : 0))];
	draft.figure('rate', hz, 'Hz');
	draft.figure('error', best.ppm, 'ppm');
	draft.figure('half', best.hz.inverse(), 's');
	draft.figure('period', hz.inverse(), 's');
	draft.formula('toggle', { kernel, prescale: Rational.int(best.prescale), ticks: Rational.int(best.ticks), hz });
	return derivation;
}

/** Can an output of the channel toggle once a period in this way of counting? */
export function toggles(channel: ChannelProfile, mode: CountingMode): boolean {
	return channel.outputs.some(
		(output) =>
			output.model === 'action' && (mode === 'down' ? (output.matchDown ?? output.top) : (output.matchUp ?? output.zero)) === 'toggle'
	);
}
