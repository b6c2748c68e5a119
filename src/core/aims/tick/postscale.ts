import { Rational, type Hertz } from '../../exact/index.js';
import { factorAt, factorCount } from '../../part/index.js';
import type { Counting } from '../../timer/index.js';
import type { DerivationDraft } from '../common/draft.js';
import { readWhole } from '../common/fields.js';
import { nearestPeriod } from '../common/nearest.js';

/** How many updates of the timer make one event: held, or as few as come nearest to the wished rate of updates; 1 where the timer has no postscaler, null where the held one cannot be. */
export function postscaleFor(draft: DerivationDraft, counting: Counting, wish: Hertz): number | null {
	const { timer, kernel } = draft.derivation;
	if (!timer!.postscale) return 1;
	const offered = Array.from({ length: factorCount(timer!.postscale) }, (_, i) => Number(factorAt(timer!.postscale!, i).num)).sort(
		(a, b) => a - b
	);
	const held = draft.held('postscale', 1, offered[offered.length - 1]);
	if (held === null) return null;
	if (held !== undefined) {
		if (offered.includes(held)) return held;
		draft.fault({ code: 'lock-refused', link: 'postscale', value: held, limit: offered[offered.length - 1] });
		return null;
	}
	const { owner } = draft.context;
	const { prescale, reload } = owner ?? lockedPeriod(draft);
	let best: { post: number; off: Rational } | undefined;
	for (const post of offered) {
		const found = nearestPeriod({ counting, kernel: kernel!, wish: wish.mul(Rational.int(post)) }, timer!.prescaler, { prescale, reload });
		const off = found?.ppm.abs();
		if (off && (!best || off.compare(best.off) < 0)) best = { post, off };
	}
	return best?.post ?? 1;
}

/** What is held of prescale and reload, as far as it can be read; what cannot is told where the period is chosen. */
function lockedPeriod({ derivation: { aim } }: DerivationDraft): { prescale: number | undefined; reload: number | undefined } {
	const read = (link: 'prescale' | 'reload', least: 0 | 1) => {
		const text = aim.locks[link];
		const found = text === undefined ? undefined : readWhole(text, least);
		return found?.ok ? found.value : undefined;
	};
	return { prescale: read('prescale', 1), reload: read('reload', 1) };
}
