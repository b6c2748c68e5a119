import type { Handle, HandleServerError, ServerInit } from '@sveltejs/kit';
import { building } from '$app/environment';
import { closeDatabase, migrateDatabase } from '$lib/server/store/db';
import { log } from '$lib/server/log';
import { bringUpPlans } from '$lib/server/plans/bringUp';
import { layInDemo } from '$lib/server/plans/demo';

export const init: ServerInit = async () => {
	if (building) return;
	await migrateDatabase();
	await bringUpPlans();
	await layInDemo();
	process.once('sveltekit:shutdown', () => void closeDatabase());
};

/** What is ours to mend is logged with its reason; nothing that a caller sent is. */
export const handleError: HandleServerError = ({ error, event, status, message }) => {
	if (status >= 500) log.error({ method: event.request.method, route: event.route.id, err: error }, 'a call failed');
	return { message };
};

/** A page of another origin must not be able to change plans: a browser always names its origin when it writes. */
export const handle: Handle = async ({ event, resolve }) => {
	const origin = event.request.headers.get('origin');
	const writes = !['GET', 'HEAD', 'OPTIONS'].includes(event.request.method);
	if (writes && origin !== null && origin !== event.url.origin) return new Response('written from another origin', { status: 403 });
	const response = await resolve(event);
	response.headers.set('x-content-type-options', 'nosniff');
	response.headers.set('referrer-policy', 'no-referrer');
	return response;
};
