import type { StretchedTrace } from '../../../core/trace/index.js';
import type { PredictedLane } from './prediction.svelte.js';

/** A line of an aim that a recorded line can show: a pin, or what comes to an input. */
export interface PlannedLine {
	role: string;
	trace: StretchedTrace;
}

/** The lines of an aim in the plan's order, as predicted; the two outcomes of a list of writes count once. */
export function plannedLines(lanes: readonly PredictedLane[], aim: string): PlannedLine[] {
	const lines = new Map<string, StretchedTrace>();
	for (const { aim: of, role, detail, whatIf, drawn } of lanes)
		if (of === aim && !detail && !whatIf && drawn.kind === 'level' && !lines.has(role)) lines.set(role, drawn.trace);
	return [...lines].map(([role, trace]) => ({ role, trace }));
}
