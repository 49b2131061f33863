// A process of its own for the stand-ins of the demo and what they are held against, so that its CPU is that of the servers alone.
import { createSocket } from 'node:dgram';
import { createServer } from 'node:http';
import { demoPlan } from '@wide-lattice/core/demo';
import { StandIns } from '@wide-lattice/standins';

const standIns = await StandIns.start(demoPlan(), {
  vantages: ['internet'],
  clusters: [],
  firstPort: 31_000 + Math.floor(Math.random() * 5000),
});
const answer = Buffer.from(JSON.stringify({ pod: 'one', request: { path: '/', headers: {} } }));
const bare = createServer((_, response) => {
  response.writeHead(200, { 'content-type': 'application/json', 'content-length': answer.length });
  response.end(answer);
});
await new Promise((resolve) => bare.listen(0, '127.0.0.1', resolve));
const echo = createSocket('udp4');
echo.on('message', (message, { port, address }) => echo.send(message, port, address));
await new Promise((resolve) => echo.bind(0, '127.0.0.1', resolve));
const { doors, names } = standIns.report();
const door = doors.find(({ port, localPort, host }) => port === 443 && localPort !== null && host !== '');
process.on('message', () => {
  const { user, system } = process.cpuUsage();
  process.send({ cpu: user + system });
});
process.send({
  http: bare.address().port,
  echo: echo.address().port,
  door: door.localPort,
  host: door.host,
  dns: names[0].port,
  authority: standIns.authorityPem,
});
