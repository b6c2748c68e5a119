import { parentPort, workerData } from 'node:worker_threads';
import { setTimeout as pause } from 'node:timers/promises';

/**
 * Asks for one thing again and again, in a thread of its own, until it is told to end; then it tells how long each answer took, in ms. The first, of a
 * server that has just started, does not count.
 */

let going = true;
const waits = [];
parentPort.once('message', () => (going = false));
const ask = () => fetch(workerData).then((answer) => answer.arrayBuffer());
await ask();
while (going) {
	const began = performance.now();
	await ask();
	waits.push(performance.now() - began);
	await pause(50);
}
parentPort.postMessage(waits);
