import { z } from 'zod';
import { nearestDuty } from '../../src/core/timer/index.js';
import { integer, rational, type Check } from './shapes.js';

const dutyGiven = z.strictObject({
	what: z.literal('duty'),
	mode: z.enum(['up', 'down', 'updown']),
	rule: z.enum(['inclusive', 'exclusive']),
	reload: integer,
	width: integer,
	output: z.enum(['below', 'above', 'enter', 'leave']),
	duty: rational
});

export const duty: Check = (raw) => {
	const { mode, rule, width, reload, output, duty } = dutyGiven.parse(raw);
	const found = nearestDuty({ mode, rule, width }, reload, output, duty);
	return found && { compare: found.compare, active_ticks: found.activeTicks, duty: found.duty };
};
