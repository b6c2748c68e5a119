import { answering, refuse } from '$lib/server/http/answers';
import { eventStream } from '$lib/server/http/events';
import { planRevision } from '$lib/server/plans/plans';
import { ears } from '$lib/server/store/listen';
import type { RequestHandler } from './$types';

/**
 * Server-sent events of an open plan: `revision` with the newest one's number, at first and whenever somebody has saved; `recordings` when
 * they are others.
 */
export const GET: RequestHandler = ({ params: { id } }) =>
	answering(async () => {
		if ((await planRevision(id)) === undefined) return refuse(404, { message: 'there is no such plan' });
		return eventStream((send) => {
			// Asked for after it is listened to: nothing falls between.
			const newest = () =>
				planRevision(id).then(
					(revision) => revision !== undefined && send('revision', String(revision)),
					() => undefined
				);
			const stop = ears.hear(
				id,
				({ revision }) => (revision === undefined ? send('recordings', '') : send('revision', String(revision))),
				() => {
					void newest();
					send('recordings', '');
				}
			);
			void newest();
			return stop;
		});
	});
