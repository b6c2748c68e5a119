import { afterEach, expect, test, vi } from 'vitest';
import { intakeText } from '../text/index.js';
import { sendArchive } from './archive.js';

afterEach(() => vi.unstubAllGlobals());
const answering = (status: number, text: string) => vi.stubGlobal('fetch', () => Promise.resolve(new Response(text, { status })));
const file = new File(['x'], 'all.tar.gz');
const line = (one: object) => `${JSON.stringify(one)}\n`;

test('what became of an archive is counted, and where it ended early that is told', async () => {
	const plan = (fate: string) => line({ what: 'plan', name: 'A', fate });
	answering(
		200,
		`${plan('taken')}\n${plan('taken')}${plan('here')}${line({ what: 'part', name: 'B', fate: 'refused', reason: 'r' })}${line({ ended: true })}`
	);
	const whole = await sendArchive(file);
	expect([intakeText(whole.taken), whole.broken]).toEqual(['2 plans taken in, 1 plan here already, 1 part not taken', undefined]);
	answering(200, plan('newer') + line({ ended: false, reason: 'cut off' }));
	expect(await sendArchive(file)).toMatchObject({ taken: [{ fate: 'newer' }], broken: 'cut off' });
	answering(200, line({ ended: false, reason: 'ours', id: 'a1' }));
	expect((await sendArchive(file)).broken).toBe('ours (a1 in the server’s log)');
	answering(200, plan('newer'));
	expect((await sendArchive(file)).broken).toContain('the server ended');
	answering(503, '{"message":"the database does not answer"}');
	await expect(sendArchive(file)).rejects.toThrow('the database does not answer');
	expect(intakeText([])).toBe('nothing was in it');
});
