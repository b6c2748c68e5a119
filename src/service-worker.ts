/// <reference types="@sveltejs/kit" />
/// <reference lib="webworker" />
import { build, version } from '$service-worker';

/**
 * Keeps the program itself, all of its code and fonts, in the browser: a station that was not visited before opens even while the server is
 * away. Pages, plans and recordings are never kept here.
 */
const worker = self as unknown as ServiceWorkerGlobalScope;
const CACHE = `nolvet-${version}`;
const OURS = new Set(build);

worker.addEventListener('install', (event) => {
	event.waitUntil(
		caches
			.open(CACHE)
			.then((cache) => cache.addAll(build))
			.then(() => worker.skipWaiting())
	);
});

worker.addEventListener('activate', (event) => {
	const clean = async () => {
		for (const name of await caches.keys()) if (name !== CACHE) await caches.delete(name);
		await worker.clients.claim();
	};
	event.waitUntil(clean());
});

worker.addEventListener('fetch', (event) => {
	const { request } = event;
	const { origin, pathname } = new URL(request.url);
	if (request.method !== 'GET' || origin !== worker.location.origin || !OURS.has(pathname)) return;
	event.respondWith(caches.match(request, { cacheName: CACHE }).then((found) => found ?? fetch(request)));
});
