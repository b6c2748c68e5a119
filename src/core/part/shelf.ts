import { readProfile } from './file.js';
import type { PartProfile } from './profile.js';
import heron32 from './heron-32.part.json' with { type: 'json' };
import plover16 from './plover-16.part.json' with { type: 'json' };
import sprat8 from './sprat-8.part.json' with { type: 'json' };

let read: readonly PartProfile[] | undefined;

/** The profiles that come with Nolvet. To add one: put its file beside this one and name it here. */
export function shippedParts(): readonly PartProfile[] {
	read ??= [heron32, plover16, sprat8].map(readProfile);
	return read;
}

/** The shipped profile of that id, or undefined. */
export function shippedPart(id: string): PartProfile | undefined {
	return shippedParts().find((part) => part.id === id);
}
