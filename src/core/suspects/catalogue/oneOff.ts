import { eachRegister, rewritten, whereOf, type Changed, type Mistake, type Register } from '../change.js';
import type { Group } from '../scene.js';

/** A register that holds one more or one less than it should: the plus or minus one of its formula was forgotten, or done twice. */
function oneOff(name: Register['name'], by: 1 | -1, usual: number): Mistake {
	return {
		code: `${name}-one-${by > 0 ? 'more' : 'less'}`,
		usual,
		of: (group) =>
			eachRegister(
				group,
				(register) => register.name === name,
				() => [(value) => value + by]
			)
	};
}

/** The same in reload and prescale at once. */
function bothOff(by: 1 | -1, usual: number): Mistake {
	return {
		code: `both-one-${by > 0 ? 'more' : 'less'}`,
		usual,
		of: (group) => group.system.timers.flatMap((timer) => bothOn(group, timer.id, by))
	};
}

function bothOn({ system }: Group, id: string, by: 1 | -1): Changed[] {
	const [reload, prescale]: Register[] = [{ name: 'reload' }, { name: 'prescale' }];
	const timer = system.timers.find((one) => one.id === id)!;
	if (timer.mode === 'free' || timer.mode === 'tap') return [];
	const first = rewritten(system, timer, reload, (value) => value + by);
	const next =
		first &&
		rewritten(
			first,
			first.timers.find((one) => one.id === id)!,
			prescale,
			(value) => value + by
		);
	return next ? [{ where: whereOf(timer, reload, timer.reload, timer.reload + by), system: next }] : [];
}

export const oneOffs: Mistake[] = [
	oneOff('reload', 1, 1),
	oneOff('prescale', 1, 2),
	oneOff('reload', -1, 3),
	oneOff('prescale', -1, 4),
	bothOff(1, 5),
	bothOff(-1, 12),
	oneOff('compare', 1, 13),
	oneOff('compare', -1, 14)
];
