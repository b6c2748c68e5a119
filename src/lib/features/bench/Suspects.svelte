<script lang="ts">
	import type { Suspect } from '../../../core/check/index.js';
	import type { RecordedLane } from './recordedLane.svelte.js';
	import { suspectText } from '../../text/index.js';
	import Num from '../../components/Num.svelte';

	interface Props {
		lane: RecordedLane;
		pinned: Suspect['code'] | undefined;
		onPin: (code: Suspect['code'] | undefined) => void;
	}
	let { lane, pinned, onPin }: Props = $props();
</script>

<section class="px-3 pb-2" aria-label="Suspects" data-testid="suspects">
	<h2 class="mb-1 text-[13px] font-bold">
		Suspects <span class="font-normal text-soft">mistakes that give just these numbers, nearest first</span>
	</h2>
	<ul class="grid gap-1 text-[12.5px]">
		{#each lane.suspects as suspect (suspect.code)}
			<li class={['flex items-start gap-2 rounded-xs border px-2 py-0.5', pinned === suspect.code && 'border-warn bg-warn-wash']}>
				<span class="min-w-0 flex-1">
					{suspectText(suspect.code)}: <Num value={suspect.hz} unit="Hz" digits={6} />, <Num value={suspect.duty} unit="%" digits={4} />
				</span>
				<button
					type="button"
					class="shrink-0 text-accent underline"
					aria-pressed={pinned === suspect.code}
					title="Draw the waves it would make"
					onclick={() => onPin(pinned === suspect.code ? undefined : suspect.code)}>{pinned === suspect.code ? 'unpin' : 'pin'}</button
				>
			</li>
		{:else}
			<li class="text-soft">No mistake known here gives these numbers.</li>
		{/each}
	</ul>
</section>
