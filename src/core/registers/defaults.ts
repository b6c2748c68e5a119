import { wants } from './findings.js';
import type { Plain } from './numbers.js';

/** What blocks and registers have unless they say otherwise: bits, and which byte lies at the lowest address. */
export interface Defaults {
	bits: number;
	bytes: 'low' | 'high';
}

const WIDTHS = [8, 16, 24, 32];

/** `bits` and `bytes` where they stand, else as they were. Throws Fault. */
export function readDefaults({ bits, bytes }: Plain, before: Defaults): Defaults {
	wants(bits === undefined || WIDTHS.includes(bits as number), 'bad-shape');
	wants(bytes === undefined || bytes === 'low' || bytes === 'high', 'bad-shape');
	return { bits: (bits as number | undefined) ?? before.bits, bytes: bytes ?? before.bytes };
}
