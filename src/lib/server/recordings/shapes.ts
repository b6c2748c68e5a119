import { z } from 'zod';

const decimalText = z.string().max(60);

/** What is said of a file ahead of reading it (core/formats/settings). */
export const settingsShape = z.strictObject({
	format: z.enum(['vcd', 'csv', 'wav']).optional(),
	step: decimalText.optional(),
	separator: z.enum([',', ';', '\t', '|', ' ']).optional(),
	decimal: z.enum(['.', ',']).optional(),
	thousands: z.enum(['', ',', '.', "'", ' ']).optional(),
	firstRow: z.int().min(1).max(10_000).optional(),
	timeColumn: z.int().min(-1).max(10_000).optional(),
	timeExponent: z.int().min(-15).max(0).optional(),
	interval: decimalText.optional(),
	dateOrder: z.enum(['day-first', 'month-first']).optional(),
	lines: z
		.record(
			z.string().regex(/^\d{1,5}$/),
			z.strictObject({
				name: z.string().max(200).optional(),
				as: z.enum(['levels', 'analogue', 'nothing']).optional(),
				threshold: z.number().optional(),
				hysteresis: z.number().min(0).optional(),
				follow: z.number().positive().optional()
			})
		)
		.optional(),
	coarser: z.int().min(1).max(1e9).optional()
});

/** How an analogue line is cut. */
export const slicingShape = z.strictObject({
	threshold: z.number().optional(),
	hysteresis: z.number().min(0).optional(),
	follow: z.number().positive().optional()
});
