import { json } from '@sveltejs/kit';
import { answering } from '$lib/server/http/answers';
import { shelvedInstruments } from '$lib/server/plans/plans';
import type { RequestHandler } from './$types';

/** The shelf: instruments of all plans but one (`?but=`), each as the plan that was saved last has it. */
export const GET: RequestHandler = ({ url }) => answering(async () => json(await shelvedInstruments(url.searchParams.get('but') ?? '')));
