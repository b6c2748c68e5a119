import { fernhollow, fernhollowHand, fernhollowLamp, fernhollowVane, type Plan } from '../core/plan/index.js';
import { commandText } from '../lib/text/index.js';
import { Unreadable } from './files.js';

/** The demo plans by the names that the command line has for them. */
const DEMOS: Record<string, () => Plan> = {
	fernhollow,
	'fernhollow-lamp': fernhollowLamp,
	'fernhollow-vane': fernhollowVane,
	'fernhollow-hand': fernhollowHand
};

/** Prints the demo plans' names, or one of them as a plan file. Returns the exit code. Throws Unreadable. */
export function demo(name: string | undefined): number {
	if (name === undefined) {
		process.stdout.write(Object.keys(DEMOS).join('\n') + '\n');
		return 0;
	}
	if (!Object.hasOwn(DEMOS, name)) throw new Unreadable(commandText.noDemo(name, Object.keys(DEMOS)));
	process.stdout.write(JSON.stringify(DEMOS[name](), null, '\t') + '\n');
	return 0;
}
