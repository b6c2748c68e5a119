<script lang="ts">
	import type { Aim, Stimulus } from '../../../core/aims/index.js';
	import { freshStimulus, stimulusProblems } from '../../../core/predict/index.js';
	import { setStep } from '../../../core/plan/index.js';
	import type { PlanPrediction } from './prediction.svelte.js';
	import type { RecordingShelf } from '../../session/recordings.svelte.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { changedStimulus, stimulusSentence } from './stimulusSentence.js';
	import { problemText } from '../../text/index.js';
	import Readings from './Readings.svelte';
	import Sentence from '../../components/Sentence.svelte';
	import TypedField from '../../components/TypedField.svelte';

	/** What comes to an aim's inputs, as a sentence, and what the aim makes of it. */
	interface Props {
		session: PlanSession;
		shelf: RecordingShelf;
		prediction: PlanPrediction;
		aim: Aim;
		/** Shows a moment, in seconds of plan time. */
		onShow: (seconds: number) => void;
	}
	let { session, shelf, prediction, aim, onShow }: Props = $props();

	const own = $derived<Stimulus | undefined>(session.plan.stimuli[aim.id]);
	const stimulus = $derived(own ?? freshStimulus(aim));
	const problems = $derived(stimulusProblems(aim, stimulus));
	const status = $derived(prediction.inputs.find((one) => one.aim === aim.id));

	function change(key: string, value: string, merge: boolean) {
		const label = `set what comes to ${aim.name || 'the aim'}`;
		if (own && key !== 'kind' && key !== 'recording') session.set(['stimuli', aim.id, key], value, label, merge);
		else session.edit(setStep(session.plan, ['stimuli', aim.id], changedStimulus(aim, stimulus, key, value, shelf.list), label));
	}

	function setLegs(legs: Extract<Stimulus, { kind: 'quadrature' }>['legs'], label: string) {
		session.edit(setStep(session.plan, ['stimuli', aim.id], { ...stimulus, legs }, label));
	}

	function setLeg(i: number, key: 'speed' | 'over', text: string, merge: boolean) {
		if (stimulus.kind !== 'quadrature') return;
		if (own) session.set(['stimuli', aim.id, 'legs', i, key], text, 'set a speed', merge);
		else setLegs(stimulus.legs.with(i, { ...stimulus.legs[i], [key]: text }), 'set a speed');
	}

	function addLeg() {
		if (stimulus.kind !== 'quadrature') return;
		const id = `leg-${Math.max(0, ...stimulus.legs.map((leg) => Number(leg.id.slice(4)) || 0)) + 1}`;
		setLegs([...stimulus.legs, { ...stimulus.legs[stimulus.legs.length - 1], id }], 'add a speed');
	}
</script>

<div class="grid h-full min-h-0 grid-cols-[minmax(0,0.8fr)_minmax(0,1fr)]" data-testid="stimulus">
	<div class="min-h-0 overflow-y-auto px-4 py-1">
		<Sentence
			small
			tokens={['To its input comes', ...stimulusSentence(aim, stimulus, shelf.list)]}
			name={aim.name || 'the aim'}
			valueOf={(key) => String((stimulus as Record<string, unknown>)[key] ?? '')}
			{problems}
			onType={(key, text, first) => change(key, text, !first)}
			onChoose={(key, value) => change(key, value, false)}
		/>
		{#if stimulus.kind === 'quadrature'}
			<ol class="grid gap-1 text-[13.5px]">
				{#each stimulus.legs as leg, i (leg.id)}
					{@const problem = (key: string) => (problems[`${leg.id}.${key}`] ? problemText(problems[`${leg.id}.${key}`]) : undefined)}
					<li class="flex items-baseline gap-1.5 font-serif text-soft">
						{i === 0 ? 'It reaches' : 'then'}
						<TypedField
							small
							label="Speed {i + 1}"
							value={leg.speed}
							problem={problem('speed')}
							onInput={(text, first) => setLeg(i, 'speed', text, !first)}
						/> within
						<TypedField
							small
							label="Time to speed {i + 1}"
							value={leg.over}
							problem={problem('over')}
							onInput={(text, first) => setLeg(i, 'over', text, !first)}
						/>
						{#if stimulus.legs.length > 1}
							<button
								type="button"
								class="px-1 font-sans hover:text-fault"
								aria-label="Remove speed {i + 1}"
								onclick={() => setLegs(stimulus.legs.toSpliced(i, 1), 'remove a speed')}>×</button
							>
						{/if}
					</li>
				{/each}
			</ol>
			<button type="button" class="mt-1 text-[12.5px] text-accent underline" onclick={addLeg}>Another speed</button>
		{/if}
		<p class="mt-1 text-[12px] text-soft">
			{#if own}
				<button
					type="button"
					class="underline"
					onclick={() => session.edit(setStep(session.plan, ['stimuli', aim.id], undefined, 'let the input fit the aim'))}
					>Back to what fits the aim</button
				>
			{:else}Chosen to fit the aim; whatever you change here is kept with the plan.{/if}
			{#if status?.missing !== undefined}<span class="text-fault">
					{stimulus.kind === 'recorded' && stimulus.line === ''
						? 'No recorded line is chosen yet; drop a recording anywhere on the bench.'
						: `The recorded line “${status.missing}” is not here: add its recording again.`}</span
				>{/if}
			{#if status?.cut}<span class="text-warn"> Only the first 200 000 edges are made.</span>{/if}
		</p>
	</div>
	<Readings {session} {prediction} {aim} {stimulus} {onShow} />
</div>
