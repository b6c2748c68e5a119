import { type Changed, type Mistake, type Register, rewritten, whereOf } from '../change.js';
import type { Group } from '../scene.js';

/** The same in reload and prescale at once. */
export function bothOff(by: 1 | -1, usual: number): Mistake {
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
