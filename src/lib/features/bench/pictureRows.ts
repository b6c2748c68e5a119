import { roleText } from '../../text/index.js';
import { paintRecorded } from '../../wave/index.js';
import { paintPlannedLane, rowHeight, type PlannedRow } from './benchRows.js';
import type { PictureRow } from './benchFiles.js';
import type { RecordedLane } from './recordedLane.svelte.js';

/** Recorded lanes and planned rows as a picture has them, from top to bottom. `names`: of aims; `reached`: seconds that are predicted. */
export function pictureRows(
	lanes: readonly RecordedLane[],
	rows: readonly PlannedRow[],
	names: ReadonlyMap<string, string>,
	reached: number
): PictureRow[] {
	const recorded = lanes.map(
		({ derivation, recording, planned, wave, shiftPs, extent, disagreement, analogue, ratio: plannedScale }): PictureRow => {
			const source = planned?.source ?? null;
			const lane = { planned: source, plannedPs: 0, plannedScale, measured: wave, shiftPs, extent, disagreement, analogue, suspect: false };
			return {
				name: `${derivation?.aim.name ?? ''}: ${recording?.name ?? ''}`,
				height: 90,
				paint: (pen, surface) => paintRecorded(pen, lane, surface)
			};
		}
	);
	const drawn = rows.flatMap((row): PictureRow[] => {
		if (row.kind === 'head') return [];
		const { lane } = row;
		const name = `${names.get(lane.aim)}: ${roleText(lane.role, lane.outcome, lane.whatIf)}`;
		return [{ name, height: rowHeight(row), paint: (pen, surface) => paintPlannedLane(pen, lane, reached, surface) }];
	});
	return [...recorded, ...drawn];
}
