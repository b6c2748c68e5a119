<script lang="ts">
	import Toast from 'flowbite-svelte/Toast.svelte';
	import { notices } from '../session/notices.svelte.js';
</script>

<div class="fixed right-4 bottom-11 z-50 flex w-96 flex-col gap-2" role="status" aria-live="polite">
	{#each notices.list as notice (notice.id)}
		<Toast
			color="gray"
			align={false}
			params={{ duration: 0 }}
			closeAriaLabel="Close this word"
			class="max-w-none rounded-sm border bg-card px-3 py-2 text-ink shadow-md dark:bg-card dark:text-ink {notice.fault
				? 'border-fault'
				: 'border-accent'}"
			classes={{
				content: 'flex items-start gap-3 text-base',
				close:
					'm-0 h-6 w-6 bg-transparent p-1 text-soft hover:bg-transparent hover:text-ink focus:ring-accent dark:bg-transparent dark:text-soft dark:hover:bg-transparent dark:hover:text-ink'
			}}
			onclose={() => notices.close(notice.id)}
		>
			<span class="min-w-0 flex-1 break-words">{notice.text}</span>
			{#if notice.action}
				{@const { label, run } = notice.action}
				<button
					type="button"
					class="font-bold text-accent underline"
					onclick={() => {
						run();
						notices.close(notice.id);
					}}>{label}</button
				>
			{/if}
		</Toast>
	{/each}
</div>
