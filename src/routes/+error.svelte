<script lang="ts">
	import { page } from '$app/state';
</script>

<div class="flex h-dvh flex-col items-center justify-center gap-2 text-center">
	<p class="num text-soft">{page.status}</p>
	<h1 class="font-serif text-2xl">{page.error?.message ?? 'Something went wrong.'}</h1>
	{#if page.error?.accepted}<p class="text-soft">{page.error.accepted}</p>{/if}
	<a class="mt-3 btn-main" href="/plans">Go to Plans</a>
</div>
