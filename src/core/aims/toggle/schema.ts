import { z } from 'zod';
import { head, ident, locks, typed } from '../common/schema.js';

/** A clock made by toggling a pin once a period: half the event rate. */
export const schema = z.strictObject({ ...head, locks, kind: z.literal('toggle'), channel: ident, rate: typed, tolerance: typed });

export type ToggleAim = z.infer<typeof schema>;
