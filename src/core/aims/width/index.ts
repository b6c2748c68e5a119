import { Rational } from '../../exact/index.js';
import type { ChannelProfile, TimerProfile } from '../../part/index.js';
import type { AimDerivation } from '../common/derivation.js';
import { readTime } from '../common/fields.js';
import { countedTime, relation, type Reach, type Relation, type RelationEnd } from '../common/relations.js';
import type { AimKind } from '../common/kind.js';
import { buildListening } from '../common/listen.js';
import { captureQuantities, linkQuantities } from '../common/quantities.js';
import { deriveWidth } from './derive.js';
import { listenWidth } from './listen.js';
import { schema, type WidthAim } from './schema.js';

/** A pulse's width by capture of both its edges. */
export const widthKind: AimKind<WidthAim> = {
	kind: 'width',
	schema,
	fresh: {
		channel: 'ch1',
		level: 'high',
		shortest: '100 us',
		longest: '25 ms',
		step: '1 %',
		overflows: 'not-counted',
		service: '60',
		filter: 'none',
		each: '',
		unit: ''
	},
	leads: false,
	inputs: {
		offers: ['echo', 'square', 'recorded'],
		lines: ['input'],
		rest: ({ level }) => (level === 'low' ? 1 : 0),
		suggests: ({ shortest, longest }) => ({ from: shortest, to: longest })
	},
	mainFigures: ['step-short', 'longest'],
	software: ({ channel, level, overflows }) => ({ does: 'spans', channel, level, laps: overflows === 'counted' }),
	served: () => true,
	timerUse: () => 'free',
	channels: ({ channel }) => [channel],
	serves: (timer) => channelsOn(timer).length > 0,
	channelsOn: channelsOn,
	settle: (aim, timer, free) => ({ ...aim, channel: free(channelsOn(timer)) }),
	derive: deriveWidth,
	build: (builder, derivation) => buildListening(builder, derivation, listenWidth),
	relations: readWidths,
	expect: () => [],
	set: (derivation) =>
		derivation.use
			? captureQuantities(derivation, derivation.aim, 'both', derivation.aim.level === 'high' ? 'rise' : 'fall')
			: linkQuantities(derivation, derivation.aim.channel)
};

function channelsOn(timer: TimerProfile): ChannelProfile[] {
	return timer.channels.filter((channel) => channel.capture?.edges.some((edge) => edge !== 'rise'));
}

/** A pulse's width against what is counted of it. */
function readWidths({ aim, figures }: AimDerivation<WidthAim>): Relation[] {
	const tick = figures.find(({ name }) => name === 'tick')?.value;
	const [shortest, longest] = [readTime(aim.shortest), readTime(aim.longest)];
	if (!tick || !shortest.ok || !longest.ok) return [];
	const width: RelationEnd = { of: 'width', unit: 's' };
	// A faster source counts more ticks.
	const range = { stretch: 'rate', low: shortest.value, high: longest.value } as const;
	const counted = (seconds: Rational) => (seconds.sign > 0 ? countedTime(seconds, tick.inverse()) : undefined);
	return [
		relation(width, width, { ...range, at: (seconds) => counted(seconds)?.map((n) => Rational.of(n).mul(tick)) as Reach | undefined }),
		relation(
			width,
			{ of: 'ticks', unit: '' },
			{ ...range, at: (seconds) => counted(seconds)?.map((n) => Rational.of(n)) as Reach | undefined }
		)
	];
}
