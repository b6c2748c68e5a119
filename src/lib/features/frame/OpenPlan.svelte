<script lang="ts">
	import { onMount, untrack, type Snippet } from 'svelte';
	import { preloadCode } from '$app/navigation';
	import { page } from '$app/state';
	import { undoKeys } from './keys.js';
	import { provideOpenPlan } from '../../session/context.js';
	import { PlanCheck } from '../../session/planCheck.svelte.js';
	import { RecordingShelf, type Recording } from '../../session/recordings.svelte.js';
	import type { LoadedPlan } from '../../../core/plan/index.js';
	import { LivePlan } from '../../session/live.js';
	import { GlitchWatch } from '../../session/glitchWatch.js';
	import { PlanSession } from '../../session/session.svelte.js';
	import InTurn from '../../components/InTurn.svelte';
	import { BrowserKeeper } from '../../session/keeper.js';
	import LeaveGuard from './LeaveGuard.svelte';
	import LeftEdits from './LeftEdits.svelte';
	import FindingsLine from './FindingsLine.svelte';
	import Frame from './Frame.svelte';
	import PlanBar from './PlanBar.svelte';

	interface Props {
		loaded: LoadedPlan;
		recordings: Recording[];
		children: Snippet;
	}
	let { loaded, recordings, children }: Props = $props();

	// The open plan lives as long as this component, which is made anew for another plan.
	const session = untrack(() => new PlanSession(loaded, new BrowserKeeper(`plan ${loaded.id}`)));
	const shelf = untrack(() => new RecordingShelf(loaded.id, recordings));
	const check = untrack(() => new PlanCheck(session, shelf));
	provideOpenPlan({ session, recordings: shelf, check });
	onMount(() => {
		void check.loadPast();
		return () => check.close();
	});

	let ready = $state(false);
	onMount(async () => {
		await session.prepare();
		ready = true;
	});

	const glitchWatch = new GlitchWatch();
	$effect(() => {
		void session.plan;
		untrack(() => glitchWatch.ask(session));
	});

	const station = $derived(
		page.url.pathname.endsWith('/report')
			? 'check'
			: ((['clock', 'relay', 'bench', 'check', 'handoff'] as const).find((name) => page.url.pathname.endsWith(`/${name}`)) ?? 'aims')
	);

	const live = new LivePlan(
		session.id,
		(revision) => void session.heard(revision),
		() => void shelf.refresh().catch(() => undefined)
	);
	onMount(() => {
		const look = () => {
			live.listen(document.visibilityState === 'visible');
			if (document.visibilityState !== 'visible') void session.flush();
		};
		look();
		document.addEventListener('visibilitychange', look);
		return () => {
			document.removeEventListener('visibilitychange', look);
			live.listen(false);
			void session.flush();
		};
	});

	const STATIONS = ['clock', 'aims', 'board', 'relay', 'bench', 'check', 'handoff'];
	// What a station needs is there before it is gone to: the server may be away by then.
	onMount(() => void Promise.allSettled(STATIONS.map((name) => preloadCode(`/plan/${session.id}/${name}`))));
</script>

<svelte:head><title>{session.plan.name} · Nolvet</title></svelte:head>
<svelte:window
	onkeydown={(event) => undoKeys(event, session)}
	onbeforeunload={(event) => {
		if (session.losable) event.preventDefault();
	}}
	onpagehide={() => void session.flush()}
/>

<Frame {station} planId={session.id}>
	{#snippet top()}<PlanBar {session}><LeftEdits {session} {loaded} /></PlanBar>{/snippet}
	{#snippet foot()}{#if ready}<FindingsLine {session} {check} />{/if}{/snippet}
	<h1 class="sr-only">{session.plan.name}: {station}</h1>
	{#if ready}<InTurn>{@render children()}</InTurn>{/if}
</Frame>
<LeaveGuard {session} stays={(url) => url.pathname.startsWith(`/plan/${session.id}/`)} />
