import { profileFindings, PROFILE_VERSION, type PartProfile } from './profile.js';
import type { ProfileFinding } from './crosscheck.js';
import { upgradeProfile } from './upgrade.js';

/** A profile that cannot be used: all its findings at once. */
export class ProfileError extends Error {
	constructor(readonly findings: ProfileFinding[]) {
		super(findings.map(({ path, message }) => `${path.join('.')}: ${message}`).join('; '));
	}
}

/** Reads a profile of any known version. Throws ProfileError. */
export function readProfile(raw: unknown): PartProfile {
	const findings = fileFindings(raw);
	if (findings.length > 0) throw new ProfileError(findings);
	return upgradeProfile(raw) as PartProfile;
}

/** All that keeps a profile of any version from being used. */
export function fileFindings(raw: unknown): ProfileFinding[] {
	if (raw === null || typeof raw !== 'object' || Array.isArray(raw))
		return [{ path: [], message: 'a part profile is an object in braces' }];
	const { version } = raw as { version?: unknown };
	if (typeof version === 'number' && Number.isInteger(version) && version > PROFILE_VERSION)
		return [{ path: ['version'], message: `version ${version} is newer than the ${PROFILE_VERSION} that is known here` }];
	return profileFindings(upgradeProfile(raw));
}
