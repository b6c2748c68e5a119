import { profileFindings, PROFILE_VERSION, type PartProfile } from './profile.js';
import { uncleanAt } from './clean.js';
import type { DocumentFinding } from './finding.js';
import { upgradeProfile } from './upgrade.js';

/** A profile that cannot be used: all its findings at once. */
export class ProfileError extends Error {
	constructor(readonly findings: DocumentFinding[]) {
		super(findings.map(({ path, code }) => `${code} ${path.join('.')}`).join('; '));
	}
}

/** Reads a profile of any known version. Throws ProfileError. */
export function readProfile(raw: unknown): PartProfile {
	const findings = fileFindings(raw);
	if (findings.length > 0) throw new ProfileError(findings);
	return upgradeProfile(raw) as PartProfile;
}

/** All that keeps a profile of any version from being used. */
export function fileFindings(raw: unknown): DocumentFinding[] {
	if (raw === null || typeof raw !== 'object' || Array.isArray(raw)) return [{ path: [], code: 'object-wanted' }];
	const unclean = uncleanAt(raw);
	if (unclean) return [{ path: unclean, code: 'text-unclean' }];
	const { version } = raw as { version?: unknown };
	if (typeof version === 'number' && Number.isInteger(version) && version > PROFILE_VERSION)
		return [{ path: ['version'], code: 'version-newer', details: { version, known: PROFILE_VERSION } }];
	return profileFindings(upgradeProfile(raw));
}
