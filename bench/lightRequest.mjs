// A thread that asks a light request again and again until it is told to stop; it answers with the longest that one waited, in
// milliseconds, and with the most that the server's main thread computed meanwhile, which a busy machine does not change.
import { readFileSync } from 'node:fs';
import { parentPort, workerData } from 'node:worker_threads';

const { url, serverId } = workerData;
const ask = async () => (await fetch(url)).arrayBuffer();
/** Milliseconds that the main thread of the server was on a processor. */
const computed = () => Number(readFileSync(`/proc/${serverId}/task/${serverId}/schedstat`, 'utf8').split(' ')[0]) / 1e6;
let isDone = false;
const longest = { waited: 0, computed: 0 };
parentPort.once('message', () => (isDone = true));
// The first one opens the connection.
await ask();
parentPort.postMessage('ready');
while (!isDone) {
  const [from, before] = [performance.now(), computed()];
  await ask();
  longest.waited = Math.max(longest.waited, performance.now() - from);
  longest.computed = Math.max(longest.computed, computed() - before);
  await new Promise((resolve) => setTimeout(resolve, 10));
}
parentPort.postMessage(longest);
