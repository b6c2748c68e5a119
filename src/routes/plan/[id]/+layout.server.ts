import { error } from '@sveltejs/kit';
import { PlanError } from '$core/plan/index.js';
import { loading } from '$lib/server/http/answers';
import { listRecordings } from '$lib/server/recordings/recordings';
import { loadPlan } from '$lib/server/plans/plans';
import { documentsText } from '$lib/text';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ params }) => {
	const plan = await loading(() => loadPlan(params.id)).catch((thrown: unknown) => {
		if (!(thrown instanceof PlanError)) throw thrown;
		error(422, { message: 'This plan cannot be read.', accepted: documentsText(thrown.findings) });
	});
	if (!plan) error(404, { message: 'There is no such plan.', accepted: 'Plans lists all there are.' });
	return { plan, recordings: await loading(() => listRecordings(params.id)) };
};
