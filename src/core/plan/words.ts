import { z } from 'zod';

/** Text as typed; the store takes no zero character. */
export const typed = z
	.string()
	.max(120)
	.regex(/^[^\0]*$/);
export const ident = z.string().min(1).max(64);
