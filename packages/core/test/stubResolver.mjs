// Runs inside a network and mount namespace of its own: a name server of ours on 127.0.0.1 that knows some names, and the operating system's
// resolver library asking it. Prints the questions that the library sent, one JSON list for each case of stdin.
import { spawn } from 'node:child_process';
import { createSocket } from 'node:dgram';
import { readFileSync, writeFileSync } from 'node:fs';
import { execFileSync } from 'node:child_process';
import { decode, encode } from 'dns-packet';

const cases = JSON.parse(readFileSync(0, 'utf8'));
execFileSync('ip', ['link', 'set', 'lo', 'up']);
const file = process.argv[2];
writeFileSync(file, '');
execFileSync('mount', ['--bind', file, '/etc/resolv.conf']);

let known = {};
let asked = [];
const server = createSocket('udp4');
server.on('message', (message, { port, address }) => {
  const { id, questions } = decode(message);
  const [{ name, type }] = questions;
  asked.push(`${name} ${type}`);
  const what = known[name];
  // AUTHORITATIVE_ANSWER and RECURSION_AVAILABLE; NXDOMAIN 3, SERVFAIL 2.
  const rcode = what === undefined ? 3 : what === 'fails' ? 2 : 0;
  const answers = what === 'A' && type === 'A' ? [{ name, type: 'A', ttl: 60, data: '127.0.0.9' }] : [];
  server.send(encode({ type: 'response', id, flags: 0x480 | rcode, questions, answers }), port, address);
});
await new Promise((resolve) => server.bind(53, '127.0.0.1', resolve));

const results = [];
for (const { name, ndots, search, answers } of cases) {
  writeFileSync(
    file,
    `nameserver 127.0.0.1\nsearch ${search.join(' ')}\noptions ndots:${ndots} attempts:1 timeout:2\n`,
  );
  known = answers;
  asked = [];
  await new Promise((resolve) => spawn('getent', ['ahosts', name], { stdio: 'ignore' }).on('exit', resolve));
  results.push(asked);
}
server.close();
console.log(JSON.stringify(results));
