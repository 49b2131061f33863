import { execFile } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { createServer } from 'node:net';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Plan } from '@wide-lattice/core/plan';
import { StandInProblem, StandIns } from '../src/index.js';
import type { StandInReport, StandInWish } from '../src/index.js';

type DoorReport = StandInReport['doors'][number];

/** Stand-ins of a test, with the certificate of their authority in a file. */
export interface Started {
  readonly standIns: StandIns;
  readonly authority: string;
  /** The door of a load balancer at a port, for the first vantage that gets there. */
  readonly door: (balancer: string, port: number) => DoorReport & { readonly localPort: number };
  readonly stop: () => Promise<void>;
}

/** What a command said and how it ended. */
export interface Ran {
  readonly code: number;
  readonly output: string;
  readonly errors: string;
}

/** Starts stand-ins at ports that nothing else has; health checks find what is stopped at once where nothing else is said. */
export async function started(plan: Plan, wish: StandInWish): Promise<Started> {
  const standIns = await atFreePorts((firstPort) => StandIns.start(plan, { firstPort, healthSeconds: 0, ...wish }));
  const folder = mkdtempSync(join(tmpdir(), 'wl-standins-'));
  const authority = join(folder, 'authority.pem');
  writeFileSync(authority, standIns.authorityPem);
  return {
    standIns,
    authority,
    door: (balancer, port) => {
      const found = standIns
        .report()
        .doors.find((each) => each.balancer === balancer && each.port === port && each.localPort !== null);
      if (found?.localPort === null || found === undefined) throw new Error(`no door of ${balancer} at ${port}`);
      return { ...found, localPort: found.localPort };
    },
    stop: async () => {
      await standIns.stop();
      await rm(folder, { recursive: true });
    },
  };
}

/** Another test may have taken the ports meanwhile: then at others. */
async function atFreePorts<T>(start: (firstPort: number) => Promise<T>): Promise<T> {
  for (let tries = 0; ; tries++)
    try {
      return await start(10_000 + Math.floor(Math.random() * 20_000));
    } catch (error) {
      if (tries === 20 || !(error instanceof StandInProblem && error.code === 'port in use')) throw error;
    }
}

/** A port that is taken until it is given back. */
export async function takenPort(): Promise<{ readonly port: number; readonly giveBack: () => void }> {
  const server = createServer();
  await new Promise<void>((resolve) => {
    server.listen(0, '127.0.0.1', resolve);
  });
  return { port: (server.address() as AddressInfo).port, giveBack: () => server.close() };
}

/** Runs a stock client; what it says, however it ends. */
export function run(command: string, args: readonly string[], input = ''): Promise<Ran> {
  return new Promise((resolve, reject) => {
    const child = execFile(command, [...args], { timeout: 300_000, maxBuffer: 64e6 }, (error, output, errors) => {
      if (error !== null && typeof error.code === 'string')
        reject(new Error(`${command} cannot be run: ${error.message}`));
      else resolve({ code: error === null ? 0 : Number(error.code), output, errors });
    });
    child.stdin?.end(input);
  });
}

/** Asks a URL of the plan at a door with curl, as a client that trusts the authority. */
export async function curl(
  { authority }: Started,
  { localPort, port }: { readonly localPort: number; readonly port: number },
  url: string,
  ...more: readonly string[]
): Promise<{ readonly code: number; readonly status: number; readonly headers: string; readonly body: Answered }> {
  const { host } = new URL(url);
  const { code, output } = await run('curl', [
    ...['-s', '-i', '--max-time', '120', '--noproxy', '*', '--cacert', authority],
    ...['--connect-to', `${host.split(':')[0] ?? ''}:${port}:127.0.0.1:${localPort}`],
    ...more,
    url,
  ]);
  const [head = '', body = ''] = output.split('\r\n\r\n');
  const status = Number(/^HTTP\/1.1 (\d+)/.exec(head)?.[1] ?? 0);
  return { code, status, headers: head.toLowerCase(), body: body === '' ? {} : (JSON.parse(body) as Answered) };
}

/** What a stand-in pod, or a load balancer in its place, says. */
export interface Answered {
  readonly pod?: string;
  readonly workload?: string;
  readonly member?: string;
  readonly seenAs?: string;
  readonly askedFrom?: string;
  readonly via?: readonly string[];
  readonly why?: string;
  readonly request?: {
    readonly host: string;
    readonly path: string;
    readonly headers: Readonly<Record<string, string>>;
  };
}
