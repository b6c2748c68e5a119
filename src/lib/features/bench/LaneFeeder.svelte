<script lang="ts">
	import { waveOf } from '../../../core/aims/index.js';
	import { call } from '../../session/api.js';
	import type { BenchLane } from './lane.svelte.js';
	import { frameOf } from '../../session/recordings.svelte.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import type { BenchView } from './view.svelte.js';

	/** Keeps one lane loaded, measured and compared; shows nothing. */
	interface Props {
		lane: BenchLane;
		view: BenchView;
		between: boolean;
		/** True for the lane in view: its verdict is the one the list of plans tells. */
		tells: boolean;
		session: PlanSession;
	}
	let { lane, view, between, tells, session }: Props = $props();

	$effect(() => {
		if (lane.recording && lane.line && !lane.trace) void lane.load(lane.recording, lane.line);
	});
	$effect(() => {
		const { recording, line, trace } = lane;
		const window = lane.window(view, between);
		if (recording && line && trace && window) void lane.measure(frameOf(recording, line).url, window);
	});
	$effect(() => {
		const { recording, line, trace, derivation, shiftPs } = lane;
		if (!recording || !line || !trace || !derivation?.pulse) return;
		const { pulse } = derivation;
		const unit = trace.unit.toNumber() * 1e12;
		void lane.compare(frameOf(recording, line).url, { setting: waveOf(pulse), tick: pulse.tickRate.inverse().toString() }, shiftPs / unit);
	});

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
