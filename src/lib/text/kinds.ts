import type { AimKindName } from '../../core/aims/index.js';
import type { KindWords } from '../features/aims/kinds/words.js';
import { words as capture } from '../features/aims/kinds/capture/words.js';
import { words as divided } from '../features/aims/kinds/divided/words.js';
import { words as encoder } from '../features/aims/kinds/encoder/words.js';
import { words as follower } from '../features/aims/kinds/follower/words.js';
import { words as oneshot } from '../features/aims/kinds/oneshot/words.js';
import { words as pair } from '../features/aims/kinds/pair/words.js';
import { words as pattern } from '../features/aims/kinds/pattern/words.js';
import { words as pwm } from '../features/aims/kinds/pwm/words.js';
import { words as table } from '../features/aims/kinds/table/words.js';
import { words as tick } from '../features/aims/kinds/tick/words.js';
import { words as toggle } from '../features/aims/kinds/toggle/words.js';
import { words as width } from '../features/aims/kinds/width/words.js';

const WORDS: Record<AimKindName, KindWords> = {
	capture,
	divided,
	encoder,
	follower,
	oneshot,
	pair,
	pattern,
	pwm,
	table,
	tick,
	toggle,
	width
};

/** What a kind of aim is called. A kind's own words stand with its sentence. */
export function kindWords(kind: string): KindWords {
	return WORDS[kind as AimKindName];
}
