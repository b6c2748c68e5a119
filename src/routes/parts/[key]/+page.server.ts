import { error } from '@sveltejs/kit';
import { loadPart } from '$lib/server/parts/parts';
import { loading } from '$lib/server/http/answers';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params }) => {
	const part = await loading(() => loadPart(params.key));
	if (!part) error(404, 'There is no such part profile.');
	return { part };
};
