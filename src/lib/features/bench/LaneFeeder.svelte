<script lang="ts">
	import { untrack } from 'svelte';
	import { call } from '../../session/api.js';
	import type { BenchView } from './benchView.svelte.js';
	import type { RecordedLane } from './recordedLane.svelte.js';
	import type { PlanSession } from '../../session/session.svelte.js';

	/** Keeps one lane loaded, measured and compared; shows nothing. */
	interface Props {
		lane: RecordedLane;
		view: BenchView;
		between: boolean;
		/** True for the lane in view: its verdict is the one the list of plans tells. */
		tells: boolean;
		session: PlanSession;
	}
	let { lane, view, between, tells, session }: Props = $props();

	$effect(() => {
		const { frame } = lane;
		if (frame) untrack(() => void lane.load(frame));
	});
	/** What hangs on what is in sight follows when the view rests. */
	const REST_MS = 90;
	$effect(() => {
		const { frame, wave } = lane;
		void [view.viewport, lane.shiftPs];
		if (!frame || !wave) return;
		const timer = setTimeout(() => {
			if (!lane.trace) void lane.loadNear(frame, view);
			void lane.loadSamples(frame, view);
		}, REST_MS);
		return () => clearTimeout(timer);
	});
	$effect(() => {
		const { frame, wave: trace } = lane;
		const window = lane.window(view, between);
		if (frame && trace && window) void lane.measure(frame, window);
	});
	$effect(() => {
		const { frame, wave: trace, ground } = lane;
		if (frame && trace && ground) void lane.compare(frame, ground.wire, ground.shiftPs / (trace.unit.toNumber() * 1e12));
	});
	$effect(() => {
		if (lane.verdict && !between) session.verdicts.set(lane.id, lane.verdict.outcome);
	});
	$effect(() => () => lane.close());

	let told = '';
	$effect(() => {
		const { verdict, derivation, recording } = lane;
		if (!tells) told = '';
		if (!verdict || !derivation || !recording || between || !tells) return;
		const body = { outcome: verdict.outcome, aim: derivation.aim.name, recording: recording.name, revision: session.revision };
		const same = JSON.stringify([body.outcome, body.aim, body.recording, lane.id]);
		if (same === told) return;
		told = same;
		// Only for the list of plans: if it cannot be told now, the next verdict tells.
		call('PUT', `/api/plans/${session.id}/verdict`, body).catch(() => (told = ''));
	});
</script>
