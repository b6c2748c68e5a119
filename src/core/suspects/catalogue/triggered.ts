import type { SimTimer } from '../../sim/index.js';
import type { Group } from '../scene.js';

export const triggered = ({ system }: Group) =>
	system.timers.filter((timer): timer is SimTimer & { trigger: NonNullable<SimTimer['trigger']> } => timer.trigger !== undefined);
