import type { Handle, HandleServerError, ServerInit } from '@sveltejs/kit';
import { building } from '$app/environment';
import { cleanText } from '$core/part/index.js';
import { noteError } from '$lib/server/http/answers';
import { closeDatabase, migrateDatabase } from '$lib/server/store/db';
import { ears } from '$lib/server/store/listen';
import { bringUpPlans } from '$lib/server/plans/bringUp';
import { layInDemo } from '$lib/server/plans/demo';
import { startJobs, stopJobs } from '$lib/server/jobs/jobs';
import { findFirstRises, sweepImports } from '$lib/server/recordings/imports';

export const init: ServerInit = async () => {
	if (building) return;
	await migrateDatabase();
	await bringUpPlans();
	await sweepImports();
	await findFirstRises();
	await layInDemo();
	await startJobs();
	process.once('sveltekit:shutdown', () => {
		ears.close();
		void stopJobs().then(closeDatabase);
	});
};

/** What is ours to mend is logged with its reason and an id, which the page shows; nothing that a caller sent is. */
export const handleError: HandleServerError = ({ error, event, status, message }) =>
	status < 500 ? { message } : { message, id: noteError(error, { method: event.request.method, route: event.route.id }) };

/** Longest id of a plan, a recording or a profile in an address. */
const LONGEST_ID = 200;

/** A page of another origin must not be able to change plans: a browser always names its origin when it writes. */
export const handle: Handle = async ({ event, resolve }) => {
	const origin = event.request.headers.get('origin');
	const writes = !['GET', 'HEAD', 'OPTIONS'].includes(event.request.method);
	if (writes && origin !== null && origin !== event.url.origin) return new Response('written from another origin', { status: 403 });
	if (Object.values(event.params).some((id) => id !== undefined && (id.length > LONGEST_ID || cleanText(id) !== id)))
		return new Response('no such place', { status: 404 });
	const response = await resolve(event);
	response.headers.set('x-content-type-options', 'nosniff');
	response.headers.set('referrer-policy', 'no-referrer');
	return response;
};
