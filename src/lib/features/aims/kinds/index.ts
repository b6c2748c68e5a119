import type { AimKindName, AnyAim } from '../../../../core/aims/index.js';
import { captureView } from './capture/view.js';
import { dividedView } from './divided/view.js';
import { encoderView } from './encoder/view.js';
import { followerView } from './follower/view.js';
import { oneshotView } from './oneshot/view.js';
import { pairView } from './pair/view.js';
import { patternView } from './pattern/view.js';
import { pwmView } from './pwm/view.js';
import { tableView } from './table/view.js';
import { tickView } from './tick/view.js';
import { toggleView } from './toggle/view.js';
import { widthView } from './width/view.js';
import type { Token } from '../../../components/tokens.js';
import type { AimView, SentencePlan } from './view.js';

export type { AimView, EditorProps } from './view.js';

/** Every kind as a person sees it. */
const VIEWS: Record<AimKindName, unknown> = {
	pwm: pwmView,
	pair: pairView,
	follower: followerView,
	toggle: toggleView,
	table: tableView,
	tick: tickView,
	divided: dividedView,
	oneshot: oneshotView,
	pattern: patternView,
	capture: captureView,
	width: widthView,
	encoder: encoderView
};

/** How an aim's kind is seen and said. */
export function viewOf({ kind }: Pick<AnyAim, 'kind'>): AimView {
	return VIEWS[kind as AimKindName] as AimView;
}

/** The aim after a choice of its sentence: what another timer does not offer becomes the first that it does. */
export function withChoice<A extends AnyAim>(aim: A, choice: string, value: string, plan: SentencePlan): A {
	const view = viewOf(aim);
	if (view.withChoice) return view.withChoice(aim, choice, value) as A;
	return settled({ ...aim, [choice]: value }, plan);
}

/** The aim with the first that is offered in place of every choice that is not. */
export function settled<A extends AnyAim>(aim: A, plan: SentencePlan): A {
	const view = viewOf(aim);
	const { keeps = [] } = view;
	const lost = view.sentence(aim, plan).find((token) => isLost(token) && !keeps.includes(token.choice));
	if (typeof lost !== 'object' || !('choice' in lost)) return aim;
	return settled({ ...aim, [lost.choice]: lost.options[1][0] }, plan);
}

function isLost(token: Token): token is Extract<Token, { choice: string }> {
	return typeof token !== 'string' && 'choice' in token && !token.offered && token.options.length > 1;
}
