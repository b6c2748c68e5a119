<script lang="ts">
	import { beforeNavigate, goto } from '$app/navigation';
	import Dialog from '../../components/Dialog.svelte';
	import type { SaveState } from '../../session/saver.svelte.js';

	/** Stands above what is edited: who goes elsewhere takes along what is saved, and is asked where something cannot be. */
	interface Props {
		session: { readonly unsaved: boolean; readonly save: SaveState; flush(): Promise<void> };
		/** Does an address still lead to what is edited? */
		stays: (url: URL) => boolean;
	}
	let { session, stays }: Props = $props();

	let asking = $state(false);
	let go: (() => void) | undefined;
	let leaving = false;

	beforeNavigate((navigation) => {
		const saving = session.flush();
		const { to } = navigation;
		// The browser asks by itself where the page is left for good.
		if (leaving || !session.unsaved || navigation.willUnload || !to || stays(to.url)) return;
		navigation.cancel();
		go = () => {
			leaving = true;
			if (navigation.type === 'popstate' && navigation.delta) history.go(navigation.delta);
			else void goto(to.url).finally(() => (leaving = false));
		};
		void saving.then(() => {
			if (session.unsaved) asking = true;
			else go?.();
		});
	});

	const why = $derived(session.save.kind === 'failed' ? session.save.message : 'somebody has saved another revision meanwhile');
</script>

{#if asking}
	<Dialog bind:open={asking} size="sm" label="Edits that are not saved">
		<h2 class="font-serif text-xl font-semibold">Your last edits are not saved</h2>
		<p class="text-[14px]">It could not be done: {why}.</p>
		<p class="text-[14px] text-soft">They are kept in this browser, and offered here when you come back.</p>
		<div class="flex justify-end gap-2">
			<button type="button" class="btn" onclick={() => go?.()}>Go all the same</button>
			<button type="button" class="btn-main" onclick={() => (asking = false)}>Stay here</button>
		</div>
	</Dialog>
{/if}
