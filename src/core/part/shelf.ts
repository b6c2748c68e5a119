import { partProfile, type PartProfile } from './profile.js';
import heron32 from './heron-32.part.json' with { type: 'json' };

/** The profiles that come with Nolvet. To add one: put its file beside this one and name it here. */
export const SHELF: readonly PartProfile[] = [heron32].map((profile) => partProfile.parse(profile));

/** The shipped profile of that id, or undefined. */
export function shippedPart(id: string): PartProfile | undefined {
	return SHELF.find((part) => part.id === id);
}
