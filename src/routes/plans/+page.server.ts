import { usableParts } from '$lib/server/parts/parts';
import { listPlans } from '$lib/server/plans/plans';
import { loading } from '$lib/server/http/answers';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = () =>
	loading(async () => ({
		plans: await listPlans(),
		parts: (await usableParts()).map(({ key, name, summary }) => ({ id: key, name, summary }))
	}));
