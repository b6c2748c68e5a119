import type { LinkName } from '../../core/aims/index.js';
import type { Led } from '../../core/plan/index.js';

const FIELDS: Record<string, string> = {
	rate: 'rate',
	tolerance: 'tolerance',
	duty: 'duty',
	bits: 'resolution',
	begin: 'duty at first',
	sweep: 'end of the sweep',
	over: 'time of the sweep',
	prescale: 'held prescale',
	reload: 'held reload',
	compare: 'held compare',
	setting: 'setting',
	every: 'interval',
	service: 'service time',
	lowest: 'lowest rate',
	highest: 'highest rate',
	step: 'wished step',
	cycles: 'cycles a turn',
	range: 'range',
	speed: 'greatest speed',
	delay: 'delay',
	dead: 'dead time',
	repeat: 'repeat count',
	width: 'width',
	from: 'first reading',
	to: 'second reading',
	gate: 'gate time',
	shortest: 'shortest width',
	longest: 'longest width',
	each: 'time of one unit',
	start: 'count at first',
	low: 'value of the first count',
	high: 'value of the last count',
	bounce: 'time of bouncing',
	frame: 'period of the pulses',
	frameTolerance: 'tolerance of that period',
	factor: 'largest factor',
	lag: 'lag',
	lagTolerance: 'tolerance of the lag',
	carrier: 'carrier',
	base: 'base rate',
	baseTolerance: 'tolerance of the base rate',
	amplitude: 'amplitude',
	offset: 'offset',
	resistance: 'resistor of the filter',
	capacitance: 'capacitor of the filter',
	inductance: 'coil of the filter',
	least: 'least lag',
	most: 'greatest lag'
};

/** "outputs.0.width" as "width of output 1". */
export function fieldName(field: string): string {
	if (field.startsWith('lock-')) return `held ${LINK[field.slice(5) as LinkName] ?? field.slice(5)}`;
	const part = /^(outputs|lines)\.(\d+)\.(\w+)$/.exec(field);
	if (part) return `${part[3]} of ${part[1] === 'outputs' ? 'output' : 'line'} ${Number(part[2]) + 1}`;
	return FIELDS[field] ?? field;
}

/** What the fields of a row of writes are called. */
const CHANGE_FIELDS: Record<string, string> = {
	at: 'time',
	rate: 'rate',
	prescale: 'prescale',
	lag: 'delay',
	apart: 'time between two writes',
	every: 'count of period events'
};

const LINK: Record<LinkName, string> = {
	prescale: 'prescale',
	reload: 'reload',
	compare: 'compare',
	dead: 'dead time',
	repeat: 'repeat count',
	preload: 'preload',
	bit: 'bit',
	advance: 'advance',
	every: 'count of edges',
	times: 'count of edges',
	lead: 'leader’s compare',
	second: 'second compare',
	factors: 'factors',
	postscale: 'postscale'
};

/** What a field of a row of writes is called; a duty by its channel is just a duty. */
export function changeFieldName(field: string): string {
	return CHANGE_FIELDS[field] ?? field.replace(/^duty .*/, 'duty');
}

/** What a link of the strip is called. */
export function linkName(link: LinkName): string {
	return LINK[link];
}

/** What is led out at a pin, as the part calls it. */
export function ledText({ called, complementary }: Pick<Led, 'called' | 'complementary'>): string {
	return complementary ? `${called}, complementary` : called;
}
