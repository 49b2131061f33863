import { spawn } from 'node:child_process';
import type { ChildProcess } from 'node:child_process';
import { createSocket } from 'node:dgram';
import type { Socket } from 'node:dgram';
import { once } from 'node:events';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { decode, encode } from 'dns-packet';
import type { Answer, Packet, RecordType } from 'dns-packet';

/** Zones of one view: the text of each zone file by its apex. Asked from 127.0.0.(10 + its place). */
export type View = Readonly<Record<string, string>>;

export interface NameServer {
  readonly ask: (view: number, name: string, type: string) => Promise<Packet>;
  readonly stop: () => Promise<void>;
}

/** Starts Debian's name server on loopback with some views, each answering from its own zones alone. Authoritative only: it asks nobody. */
export async function startNameServer(views: readonly View[]): Promise<NameServer> {
  const folder = mkdtempSync('/var/tmp/wl-named-');
  const port = 20_000 + Math.floor(Math.random() * 20_000);
  const parts = views.map((zones, at) => {
    const own = Object.entries(zones).map(([apex, text], i) => {
      const file = join(folder, `v${at}-${i}.zone`);
      writeFileSync(file, text);
      return `zone "${apex === '' ? '.' : apex}" { type primary; file "${file}"; check-names ignore; check-integrity no; };`;
    });
    return `view v${at} { match-clients { 127.0.0.${10 + at}; }; recursion no; ${own.join('\n')} };`;
  });
  const options = `directory "${folder}"; pid-file none; session-keyfile "${folder}/key"; managed-keys-directory "${folder}"; listen-on port ${port} { 127.0.0.1; }; listen-on-v6 { none; }; minimal-responses no-auth-recursive; minimal-any no; allow-query { any; }; dnssec-validation no; max-udp-size 65535; edns-udp-size 4096; empty-zones-enable no; notify no;`;
  writeFileSync(join(folder, 'named.conf'), `options { ${options} };\ncontrols { };\n${parts.join('\n')}\n`);
  const server = spawn('named', ['-g', '-n', '1', '-c', join(folder, 'named.conf')], {
    stdio: ['ignore', 'ignore', 'pipe'],
  });
  await running(server).catch((error: unknown) => {
    server.kill('SIGKILL');
    throw error;
  });
  const sockets = await Promise.all(views.map((_, at) => bound(`127.0.0.${10 + at}`)));
  return {
    ask: (view, name, type) => asked(sockets[view]!, port, name, type),
    stop: async () => {
      for (const { socket } of sockets) socket.close();
      server.kill('SIGKILL');
      await once(server, 'exit');
      await rm(folder, { recursive: true, force: true });
    },
  };
}

/** Until it says that it runs; what it says instead is the error. */
async function running(server: ChildProcess): Promise<void> {
  let said = '';
  await new Promise<void>((resolve, reject) => {
    server.on('error', reject);
    server.on('exit', (code) => {
      reject(new Error(`named ended with ${code}:\n${said.slice(-4000)}`));
    });
    server.stderr?.on('data', (chunk: Buffer) => {
      said += chunk.toString();
      if (/ running$/m.test(said)) resolve();
    });
  });
  const faults = said
    .split('\n')
    .filter(
      (line) => /not loaded due to errors|\\.zone:.*(?!warning)(error|failed|not )/.test(line) && !/warning/.test(line),
    );
  if (faults.length > 0) throw new Error(faults.slice(0, 20).join('\n'));
  server.removeAllListeners('exit');
}

interface Asking {
  readonly socket: Socket;
  readonly waiting: Map<number, (packet: Packet) => void>;
}

async function bound(address: string): Promise<Asking> {
  const socket = createSocket('udp4');
  const waiting = new Map<number, (packet: Packet) => void>();
  socket.on('message', (message) => {
    const packet = decode(message);
    waiting.get(packet.id ?? -1)?.(packet);
  });
  socket.bind(0, address);
  await once(socket, 'listening');
  return { socket, waiting };
}

let lastId = 0;

async function asked({ socket, waiting }: Asking, port: number, name: string, type: string): Promise<Packet> {
  const id = (lastId = (lastId + 1) % 65_536);
  const query = encode({
    type: 'query',
    id,
    questions: [{ type: type as RecordType, name }],
    additionals: [{ type: 'OPT', name: '.', udpPayloadSize: 4096, flags: 0, options: [] } as unknown as Answer],
  });
  for (let tries = 0; tries < 10; tries++) {
    socket.send(query, port, '127.0.0.1');
    const answer = await new Promise<Packet | undefined>((resolve) => {
      const timer = setTimeout(resolve, 2000, undefined);
      waiting.set(id, (packet) => {
        clearTimeout(timer);
        resolve(packet);
      });
    });
    waiting.delete(id);
    if (answer !== undefined) return answer;
  }
  throw new Error(`no answer to ${name} ${type}`);
}
