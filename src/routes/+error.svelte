<script lang="ts">
	import { page } from '$app/state';
	import { AWAY } from '$lib/session/api';

	const AGAIN_MS = 2000;

	/** The server is away, or has said that it cannot serve just now: the page comes by itself when it can. */
	const away = $derived(page.status === 503 || page.error?.message === AWAY);

	$effect(() => {
		if (!away) return;
		const timer = setInterval(() => void look(), AGAIN_MS);
		return () => clearInterval(timer);
	});

	async function look() {
		const answer = await fetch(location.href, { cache: 'no-store' }).catch(() => undefined);
		if (answer && answer.status !== 503) location.reload();
	}
</script>

<svelte:head><title>{page.error?.message ?? 'Something went wrong'} · Nolvet</title></svelte:head>

<main class="flex h-dvh flex-col items-center justify-center gap-2 text-center">
	{#if page.error?.message !== AWAY}<p class="num text-soft">{page.status}</p>{/if}
	<h1 class="font-serif text-2xl">{page.error?.message ?? 'Something went wrong.'}</h1>
	{#if page.error?.accepted}<p class="text-soft">{page.error.accepted}</p>{/if}
	{#if page.error?.id}<p class="text-soft">The server’s log calls it <span class="num">{page.error.id}</span>.</p>{/if}
	{#if away}<p class="text-soft" role="status">Asking again …</p>{/if}
	<a class="mt-3 btn-main" href="/plans">Go to Plans</a>
</main>
