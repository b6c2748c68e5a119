import { exportPlan } from '../../components/export.js';
import { addAim, addReading, typedOffer } from '../../session/edits.js';
import { findingText, kindWords, linkName, linkText } from '../../text/index.js';
import { typedReading, type TypedReading } from '../../session/typedReading.js';
import { theme } from '../../session/theme.svelte.js';
import type { PlanSession } from '../../session/session.svelte.js';

export interface Command {
	name: string;
	keys?: string;
	/** What comes of it, said before it is done. */
	says?: string;
	/** Something stands in its way, though it can be done. */
	troubled?: boolean;
	run: () => void;
}

/** What can be done from anywhere in an open plan. `goto` leads to an address. */
export function commandsOf(session: PlanSession, goto: (to: string) => unknown): Command[] {
	const base = `/plan/${session.id}`;
	return [
		{ name: 'Undo', keys: 'Ctrl+Z', run: () => void session.undo() },
		{ name: 'Redo', keys: 'Ctrl+Shift+Z', run: () => void session.redo() },
		{ name: 'New aim', run: () => void goto(`${base}/aims#${addAim(session)}`) },
		{ name: 'Go to Plans', run: () => void goto('/plans') },
		{ name: 'Go to Clock', run: () => void goto(`${base}/clock`) },
		{ name: 'Ask for clock rates', run: () => void goto(`${base}/clock#rates`) },
		{ name: 'Go to Aims', run: () => void goto(`${base}/aims`) },
		{ name: 'Go to the board of aims', run: () => void goto(`${base}/board`) },
		{ name: 'Go to Relay', run: () => void goto(`${base}/relay`) },
		{ name: 'Go to Bench', run: () => void goto(`${base}/bench`) },
		{ name: 'Go to Check', run: () => void goto(`${base}/check`) },
		{ name: 'Go to Parts', run: () => void goto(`/parts?plan=${session.id}`) },
		{ name: 'Save the plan as a file', run: () => exportPlan(session.plan, session.made) },
		{ name: theme.dark ? 'Light paper' : 'Dark paper', run: () => theme.set(!theme.dark) },
		...session.plan.aims.map((aim) => ({ name: `Aim: ${aim.name || 'unnamed'}`, run: () => void goto(`${base}/aims#${aim.id}`) }))
	];
}

/** Commands that have every word typed, in their order. */
export function matching(commands: Command[], text: string): Command[] {
	const words = text.toLowerCase().split(/\s+/).filter(Boolean);
	return commands.filter(({ name }) => words.every((word) => name.toLowerCase().includes(word)));
}

/** What a typed line adds: an aim, with the timer and the registers that it comes to, or a reading; none where it says neither. */
export function typedCommand(session: PlanSession, goto: (to: string) => unknown, line: string): Command[] {
	const read = typedReading(session, line);
	if (read) return readingCommands(session, goto, read);
	const offer = typedOffer(session.plan, line);
	if (!offer) return [];
	const { plan } = session;
	if ('missing' in offer)
		return [{ name: 'Cannot be added', says: `${plan.part.name} ${offer.missing}`, troubled: true, run: () => undefined }];
	const { aim, derivation, fault } = offer;
	const timer = plan.part.timers.find(({ id }) => id === aim.timer)?.name ?? aim.timer;
	const strip = (derivation?.strip ?? []).map((link) => `${linkName(link.name)} ${linkText(link)}`).join(', ');
	const run = () => {
		session.insert(['aims', plan.aims.length], aim, 'add an aim');
		void goto(`/plan/${session.id}/aims#${aim.id}`);
	};
	return [
		{
			name: `Add ${kindWords(aim.kind).offer}: ${line.trim()}`,
			says: `${timer}: ${fault ? findingText(fault) : strip}`,
			troubled: fault !== undefined,
			run
		}
	];
}

/** Holding what somebody read against what it could be of. */
function readingCommands(session: PlanSession, goto: (to: string) => unknown, { value, offers }: TypedReading): Command[] {
	if (offers.length === 0)
		return [
			{
				name: 'Cannot be held against the plan',
				says: `no aim that is meant has a quantity of the kind of “${value}”`,
				troubled: true,
				run: () => undefined
			}
		];
	return offers.map((offer) => ({
		name: `Hold ${value} against ${offer.name}`,
		says: 'a reading beside the recordings; Check says what would explain it',
		run: () => {
			addReading(session, offer, value);
			void goto(`/plan/${session.id}/check`);
		}
	}));
}
