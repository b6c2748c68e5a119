import { listParts } from '$lib/server/parts/parts';
import { loading } from '$lib/server/http/answers';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = () => loading(async () => ({ parts: await listParts() }));
