import { shippedParts } from '$core/part/index.js';
import { listPlans } from '$lib/server/plans';
import { summarise } from '$lib/server/summary';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => ({
	plans: (await listPlans()).map(summarise),
	parts: shippedParts().map(({ id, name, summary }) => ({ id, name, summary }))
});
