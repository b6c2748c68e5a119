import type { Hertz, Seconds } from '../../exact/index.js';
import type { ChannelProfile, FilterProfile } from '../../part/index.js';
import { filterWindow } from '../../timer/index.js';
import type { DerivationDraft } from './draft.js';

/** How long a filter wants a level to last; none takes one kernel cycle. */
export function windowOf(filter: FilterProfile | undefined, kernel: Hertz): Seconds {
	return filter ? filterWindow(filter.samples, filter.divide, kernel) : kernel.inverse();
}

/** The filter that an aim names by its index, "none" being none; says so when there is no such one. */
export function chosenFilter(
	draft: DerivationDraft,
	{ filter }: { filter: string },
	filters: readonly FilterProfile[]
): FilterProfile | undefined {
	if (filter === 'none') return undefined;
	const one = filters[Number(filter)];
	if (!one) draft.fault({ code: 'place-missing', what: filter, of: 'filter', timer: draft.derivation.timer!.name });
	return one;
}

/** A filter must settle between two edges; where it does not, the slowest that does is told. */
export function checkFilterWindow(
	draft: DerivationDraft,
	filter: FilterProfile | undefined,
	filters: readonly FilterProfile[],
	spacing: Seconds
): void {
	const kernel = draft.derivation.kernel!;
	const window = windowOf(filter, kernel);
	draft.figure('filter-window', window, 's');
	if (spacing.compare(window) > 0) return;
	let fits: number | undefined;
	filters.forEach((one, i) => {
		const fast = windowOf(one, kernel).compare(spacing) < 0;
		if (fast && (fits === undefined || windowOf(one, kernel).compare(windowOf(filters[fits], kernel)) > 0)) fits = i;
	});
	draft.fault({ code: 'filter-too-slow', window, spacing, ...(fits !== undefined && { fits }) });
}

/** The same for a captured channel, whose filter shows only where there is one. */
export function checkChannelFilter(draft: DerivationDraft, aim: { filter: string }, { capture }: ChannelProfile, spacing: Seconds): void {
	const filters = capture?.filters ?? [];
	const filter = chosenFilter(draft, aim, filters);
	if (filter) checkFilterWindow(draft, filter, filters, spacing);
}
