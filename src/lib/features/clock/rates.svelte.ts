import { nodeName } from '../../text/index.js';
import { Rational } from '../../../core/exact/index.js';
import { type Plan, joinSteps, setStep } from '../../../core/plan/index.js';
import { progress, ratesWorkers } from '../../../workers/clients.js';
import type { RatesProgress, WireAnswer } from '../../../workers/ratesWire.js';
import { settingText } from './nodes.js';
import type { PlanSession } from '../../session/session.svelte.js';
import { failedState, LatestWork, type WorkState } from '../../session/work.js';

const KEEP = 40;

/** The search for wished rates as the page sees it. */
export class RateSearchRun {
	progress = $state.raw<RatesProgress>();
	state = $state.raw<WorkState>({ kind: 'idle' });
	private readonly work = new LatestWork();

	/** Starts anew; a search under way ends. */
	async start(plan: Plan): Promise<void> {
		const signal = this.work.begin();
		this.state = { kind: 'loading' };
		const take = (found: RatesProgress) => (this.progress = found);
		const go = () => (signal.aborted ? 'drop' : 'on');
		try {
			await ratesWorkers.run((worker, heard) => worker.search(plan, KEEP, progress(heard, take, go)), { signal });
			this.state = { kind: 'ready' };
		} catch (error) {
			this.state = failedState(error, signal) ?? this.state;
		}
	}

	/** Ends a search under way; what it has found stays. */
	stop(): void {
		if (this.state.kind !== 'loading') return;
		this.work.end();
		this.state = { kind: 'stopped' };
	}

	clear(): void {
		this.work.end();
		this.state = { kind: 'idle' };
		this.progress = undefined;
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
