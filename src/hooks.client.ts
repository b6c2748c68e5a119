import type { HandleClientError } from '@sveltejs/kit';

/** A page whose data cannot be fetched says so; the error's page asks again. */
export const handleError: HandleClientError = ({ error, message }) =>
	error instanceof TypeError ? { message: 'The server does not answer.', accepted: 'It is asked again until it does.' } : { message };
