// What stand-ins cost the machine for each request and each name, against a bare HTTP server and a bare echo of the same runtime.
import { fork } from 'node:child_process';
import { createSocket } from 'node:dgram';
import { once } from 'node:events';
import { Agent, request } from 'node:http';
import { Agent as SecureAgent, request as secureRequest } from 'node:https';
import { fileURLToPath } from 'node:url';
import { encode } from 'dns-packet';
import { row, scaled } from './measure.mjs';

const REQUESTS = scaled(20_000, 50);
const AT_ONCE = 20;

const servers = fork(fileURLToPath(new URL('./standInServers.mjs', import.meta.url)));
const [{ http, echo, door, host, dns, authority }] = await once(servers, 'message');

async function cpu() {
  servers.send('cpu');
  const [{ cpu: spent }] = await once(servers, 'message');
  return spent / 1000;
}

/** CPU of the servers for a number of answers, in ms for 1,000 of them. */
async function costOf(count, one) {
  await Promise.all(Array.from({ length: AT_ONCE }, () => one()));
  const before = await cpu();
  await Promise.all(
    Array.from({ length: AT_ONCE }, async () => {
      for (let at = 0; at < count / AT_ONCE; at++) await one();
    }),
  );
  return (((await cpu()) - before) / count) * 1000;
}

function asking(send, options) {
  return () =>
    new Promise((resolve, reject) => {
      const asked = send(options, (response) => response.resume().on('end', resolve));
      asked.on('error', reject).end();
    });
}

const agent = new Agent({ keepAlive: true, maxSockets: AT_ONCE });
const secure = new SecureAgent({ keepAlive: true, maxSockets: AT_ONCE });
const target = { host: '127.0.0.1', path: '/', headers: { host } };
const bare = await costOf(REQUESTS, asking(request, { ...target, port: http, agent }));
const own = await costOf(
  REQUESTS,
  asking(secureRequest, { ...target, port: door, agent: secure, ca: authority, servername: host }),
);
row('1,000 requests to a load balancer’s stand-in, with TLS', own, 'to a bare HTTP server', bare);

/** Sockets of their own, so that each waits for its own answer. */
function asked(port, message) {
  const free = Array.from({ length: AT_ONCE }, () => createSocket('udp4'));
  const sockets = [...free];
  return {
    one: async () => {
      const socket = free.pop();
      socket.send(message, port, '127.0.0.1');
      await once(socket, 'message');
      free.push(socket);
    },
    close: () => sockets.forEach((socket) => socket.close()),
  };
}

const message = encode({ type: 'query', id: 1, flags: 256, questions: [{ type: 'A', name: host }] });
const [plain, named] = [asked(echo, message), asked(dns, message)];
const echoed = await costOf(REQUESTS, plain.one);
const answered = await costOf(REQUESTS, named.one);
row('1,000 names asked over UDP', answered, 'a bare echo', echoed);
plain.close();
named.close();
agent.destroy();
secure.destroy();
servers.kill();
