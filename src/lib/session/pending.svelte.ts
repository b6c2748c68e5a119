import { invalidateAll } from '$app/navigation';
import { navigating } from '$app/state';

const AGAIN_MS = 1500;

/** Asks for a page's list again for as long as something in it is still being worked out. */
export function refreshPending(list: () => readonly { pending: boolean }[]): void {
	$effect(() => {
		if (!list().some(({ pending }) => pending)) return;
		let timer: ReturnType<typeof setTimeout>;
		const ask = () => {
			// Who is on the way to another page would be called back from there.
			if (navigating.to) wait();
			else void invalidateAll();
		};
		const wait = () => (timer = setTimeout(ask, AGAIN_MS));
		wait();
		return () => clearTimeout(timer);
	});
}
