import { error } from '@sveltejs/kit';
import { loadPart } from '$lib/server/parts/parts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params }) => {
	const part = await loadPart(params.key);
	if (!part) error(404, 'There is no such part profile.');
	return { part };
};
