import { nodeName } from '../../text/index.js';
import { Rational } from '../../../core/exact/index.js';
import { type Plan, joinSteps, setStep } from '../../../core/plan/index.js';
import { callback, ratesWorker } from '../../../workers/client.js';
import type { RatesProgress, WireAnswer } from '../../../workers/ratesWire.js';
import { settingText } from './nodes.js';
import type { PlanSession } from '../../session/session.svelte.js';

const KEEP = 40;

/** The search for wished rates as the page sees it. */
export class RateSearchRun {
	progress = $state.raw<RatesProgress>();
	running = $state(false);
	stopped = $state(false);
	failed = $state('');
	private token = 0;

	/** Starts anew; a search under way ends. */
	async start(plan: Plan): Promise<void> {
		const mine = ++this.token;
		this.running = true;
		this.stopped = false;
		this.failed = '';
		try {
			const take = callback((progress: RatesProgress) => {
				if (mine === this.token) this.progress = progress;
			});
			await ratesWorker().search(plan, KEEP, take);
		} catch (error) {
			if (mine === this.token) this.failed = error instanceof Error ? error.message : String(error);
		} finally {
			if (mine === this.token) this.running = false;
		}
	}

	/** Ends a search under way; what it has found stays. */
	async stop(): Promise<void> {
		if (!this.running) return;
		this.token++;
		this.running = false;
		this.stopped = true;
		await ratesWorker().stop();
	}

	clear(): void {
		void this.stop();
		this.stopped = false;
		this.progress = undefined;
		this.failed = '';
	}
}

/** The texts that an answer sets, by node id. */
export function answerTexts(answer: WireAnswer): [string, string][] {
	return answer.changes.map(([id, text]) => [id, text.includes('/') ? settingText(Rational.parse(text)) : text]);
}

/** Takes an answer: all its settings in one step. */
export function adoptAnswer(session: PlanSession, answer: WireAnswer): void {
	const { plan } = session;
	const steps = answerTexts(answer).map(([id, text]) => setStep(plan, ['clock', id], text, ''));
	if (steps.length > 0)
		session.edit(
			joinSteps(
				`set ${steps.length === 1 ? nodeName(plan, answer.changes[0][0]) : `${steps.length} clock nodes`} for the wished rates`,
				steps
			)
		);
}
