import { spawn, spawnSync } from 'node:child_process';
import type { ChildProcess } from 'node:child_process';
import { createSocket } from 'node:dgram';
import type { Socket } from 'node:dgram';
import { once } from 'node:events';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { decode, encode, RECURSION_DESIRED } from 'dns-packet';
import type { Answer, Packet, RecordType } from 'dns-packet';

/** Zones of one view: the text of each zone file by its apex. Asked from 127.0.0.(10 + its place). */
export type View = Readonly<Record<string, string>>;

export interface NameServer {
  readonly ask: (view: number, name: string, type: string) => Promise<Packet>;
  readonly stop: () => Promise<void>;
}

/** A server that others find by its address: the zones that it answers for. */
export interface Served {
  readonly address: string;
  readonly zones: View;
}

/** Starts Debian's name server on loopback with some views, each answering from its own zones alone. Authoritative only: it asks nobody. */
export function startNameServer(views: readonly View[]): Promise<NameServer> {
  return start(views.length, ['127.0.0.1'], (zonesIn) =>
    views.map(
      (zones, at) =>
        `view v${at} { match-clients { 127.0.0.${10 + at}; }; recursion no; ${zonesIn(`v${at}`, zones)} };`,
    ),
  );
}

/** Whether loopback can be given addresses here, as a name server needs them to listen at; what is missing otherwise. */
export function whyNoAddresses(): string | undefined {
  if (process.getuid?.() !== 0) return 'it must run as root';
  return spawnSync('ip', ['-V']).error === undefined ? undefined : 'the command ip is not there';
}

/** Addresses of loopback that no other run has. */
export function freshAddresses(count: number): string[] {
  const [a, b] = [1 + Math.floor(Math.random() * 254), 1 + Math.floor(Math.random() * 254)];
  return Array.from({ length: count }, (_, n) => `127.${a}.${b}.${n + 1}`);
}

/**
 * Starts it as the resolver of some places, each with zones of its own, beside the servers that they find from the root on.
 * It asks others at the port that it has itself, so that loopback addresses are enough.
 */
export async function startResolvers(
  places: readonly View[],
  servers: readonly Served[],
  rootAddress: string,
): Promise<NameServer> {
  const addresses = servers.map(({ address }) => address);
  const lo = (what: 'add' | 'del') => {
    for (const address of addresses) spawnSync('ip', ['addr', what, `${address}/32`, 'dev', 'lo']);
  };
  lo('add');
  const server = await start(places.length, ['127.0.0.1', ...addresses], (zonesIn, folder) => {
    const hints = join(folder, 'hints');
    writeFileSync(hints, `. 3600 IN NS ns.root.invalid.\nns.root.invalid. 3600 IN A ${rootAddress}\n`);
    return [
      ...servers.map(
        ({ address, zones }, at) =>
          `view s${at} { match-destinations { ${address}; }; recursion no; ${zonesIn(`s${at}`, zones)} };`,
      ),
      ...places.map(
        (zones, at) =>
          `view v${at} { match-clients { 127.0.0.${10 + at}; }; recursion yes; allow-recursion { any; }; qname-minimization off; zone "." { type hint; file "${hints}"; }; ${zonesIn(`v${at}`, zones)} };`,
      ),
    ];
  }).catch((error: unknown) => {
    lo('del');
    throw error;
  });
  return {
    ask: server.ask,
    stop: async () => {
      await server.stop();
      lo('del');
    },
  };
}

type ZonesIn = (prefix: string, zones: View) => string;

async function start(
  places: number,
  addresses: readonly string[],
  viewsOf: (zonesIn: ZonesIn, folder: string) => readonly string[],
): Promise<NameServer> {
  const folder = mkdtempSync('/var/tmp/wl-named-');
  const port = 20_000 + Math.floor(Math.random() * 20_000);
  const zonesIn: ZonesIn = (prefix, zones) =>
    Object.entries(zones)
      .map(([apex, text], i) => {
        const file = join(folder, `${prefix}-${i}.zone`);
        writeFileSync(file, text);
        return `zone "${apex === '' ? '.' : apex}" { type primary; file "${file}"; check-names ignore; check-integrity no; };`;
      })
      .join('\n');
  const parts = viewsOf(zonesIn, folder);
  const options = `directory "${folder}"; pid-file none; session-keyfile "${folder}/key"; managed-keys-directory "${folder}"; port ${port}; listen-on port ${port} { ${addresses.join('; ')}; }; listen-on-v6 { none; }; minimal-responses no-auth-recursive; minimal-any no; allow-query { any; }; dnssec-validation no; max-udp-size 65535; edns-udp-size 4096; empty-zones-enable no; notify no;`;
  writeFileSync(join(folder, 'named.conf'), `options { ${options} };\ncontrols { };\n${parts.join('\n')}\n`);
  const server = spawn('named', ['-g', '-n', '1', '-c', join(folder, 'named.conf')], {
    stdio: ['ignore', 'ignore', 'pipe'],
  });
  await running(server).catch((error: unknown) => {
    server.kill('SIGKILL');
    throw error;
  });
  const sockets = await Promise.all(Array.from({ length: places }, (_, at) => bound(`127.0.0.${10 + at}`)));
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
    flags: RECURSION_DESIRED,
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
