import { listParts } from '$lib/server/parts/parts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => ({ parts: await listParts() });
