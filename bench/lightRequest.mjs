// A thread that asks a light request again and again until it is told to stop; it answers with the longest that one waited, in milliseconds.
import { parentPort, workerData } from 'node:worker_threads';

const ask = async () => (await fetch(workerData)).arrayBuffer();
let isDone = false;
let longest = 0;
parentPort.once('message', () => (isDone = true));
// The first one opens the connection.
await ask();
parentPort.postMessage('ready');
while (!isDone) {
  const from = performance.now();
  await ask();
  longest = Math.max(longest, performance.now() - from);
  await new Promise((resolve) => setTimeout(resolve, 10));
}
parentPort.postMessage(longest);
