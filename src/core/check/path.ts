import type { Plan } from '../plan/index.js';
import type { Finding } from './findings.js';

/** Where a finding lies in its plan, as a path of keys and indexes: "aims.0.rate", "clock.loop", "changes.0.rows.2". */
export function findingPath(finding: Finding, plan: Plan): string {
	const { aim, node, change } = finding;
	if (aim !== undefined) {
		const at = `aims.${plan.aims.findIndex(({ id }) => id === aim)}`;
		if (finding.code !== 'field') return at;
		return `${at}.${finding.field.replace(/^lock-/, 'locks.')}`;
	}
	if (change) {
		const list = plan.changes.findIndex(({ timer }) => timer === change.timer);
		const row = plan.changes[list]?.rows.findIndex(({ id }) => id === change.row) ?? -1;
		return row < 0 ? `changes.${list}` : `changes.${list}.rows.${row}`;
	}
	return node === undefined ? 'clock' : `clock.${node}`;
}
