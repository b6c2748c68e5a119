import { error } from '@sveltejs/kit';
import { listRecordings } from '$lib/server/recordings';
import { loadPlan } from '$lib/server/plans';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ params }) => {
	const plan = await loadPlan(params.id);
	if (!plan) error(404, { message: 'There is no such plan.', accepted: 'Plans lists all there are.' });
	return { plan, recordings: await listRecordings(params.id) };
};
