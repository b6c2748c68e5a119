import { readWhole } from '../common/fields.js';
import type { AimKind } from '../common/kind.js';
import { buildListening } from '../common/listen.js';
import { linkQuantities } from '../common/quantities.js';
import { deriveEncoder } from './derive.js';
import { readCounts, turnKnob } from './knob.js';
import { listenEncoder } from './listen.js';
import { schema, type EncoderAim } from './schema.js';

/** A position counted from two quadrature inputs. */
export const encoderKind: AimKind<EncoderAim> = {
	kind: 'encoder',
	schema,
	fresh: {
		cycles: '256',
		times: '4',
		range: '1 turn',
		ends: 'wrap',
		filter: 'none',
		speed: '60 rpm',
		start: '0',
		low: '',
		high: '',
		drives: ''
	},
	leads: false,
	inputs: {
		offers: ['quadrature', 'recorded'],
		lines: ['a', 'b'],
		rest: () => 0,
		suggests: ({ speed }) => ({ speed }),
		cyclesPerTurn: ({ cycles }) => readWhole(cycles, 1)
	},
	mainFigures: ['counts', 'fastest'],
	asks: ({ drives }) => (drives === '' ? [] : [drives]),
	software: ({ ends }) => ({ does: 'places', held: ends === 'clamp' }),
	served: ({ ends }) => ends === 'clamp',
	timerUse: () => 'alone',
	channels: (_, timer) => (timer?.encoder ? [timer.encoder.a, timer.encoder.b] : []),
	serves: (timer) => timer.encoder !== undefined,
	channelsOn: () => [],
	settle: (aim, timer) => {
		const { times } = timer.encoder!;
		return { ...aim, times: times.some((one) => String(one) === aim.times) ? aim.times : (String(times.at(-1)) as '4') };
	},
	derive: deriveEncoder,
	build(builder, derivation) {
		let positions: [number, number][] = [];
		const why = buildListening(builder, derivation, (one, lines, base) => {
			const found = listenEncoder(one, lines, base);
			positions = found?.positions ?? [];
			return found;
		});
		turnKnob(builder, derivation, positions);
		return why;
	},
	relations: readCounts,
	expect: () => [],
	set: (derivation) => ({ ...linkQuantities(derivation), ...(derivation.use && { source: 'encoder' }) })
};
