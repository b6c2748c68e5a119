import { usableParts } from '$lib/server/parts/parts';
import { listPlans } from '$lib/server/plans/plans';
import { summarise } from '$lib/server/plans/summary';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => ({
	plans: (await listPlans()).map(summarise),
	parts: (await usableParts()).map(({ key, part }) => ({ id: key, name: part.name, summary: part.summary }))
});
