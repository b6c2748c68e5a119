import type { HandleClientError } from '@sveltejs/kit';
import { AWAY } from '$lib/session/api';

/** A page whose data cannot be fetched says so; the error's page asks again. */
export const handleError: HandleClientError = ({ error, message }) => (error instanceof TypeError ? { message: AWAY } : { message });
