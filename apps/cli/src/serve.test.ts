import { spawn, spawnSync } from 'node:child_process';
import { Resolver } from 'node:dns/promises';
import { mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { demoPlan } from '@wide-lattice/core/demo';
import { writePlanFile } from '@wide-lattice/core/exchange';

const main = join(__dirname, '../dist/main.js');
let folder = '';
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'wl-serve-'));
});
afterEach(() => {
  rmSync(folder, { recursive: true });
});

async function freePort(): Promise<number> {
  const server = createServer();
  await new Promise<void>((resolve) => {
    server.listen(0, '127.0.0.1', resolve);
  });
  const { port } = server.address() as AddressInfo;
  await new Promise((resolve) => server.close(resolve));
  return port;
}

test('a plan file answers until Ctrl-C, and follows what is written into it', async () => {
  const file = join(folder, 'plan.json');
  const text = writePlanFile(demoPlan(), 'json');
  writeFileSync(file, text);
  const port = await freePort();
  const out = join(folder, 'out');
  const server = spawn(process.execPath, [
    ...[main, 'serve', file, '--from', 'the internet', '--api', 'booking-north'],
    ...['--first-port', String(port), '--out', out],
  ]);
  let said = '';
  let errors = '';
  server.stdout.on('data', (chunk: Buffer) => (said += chunk.toString()));
  server.stderr.on('data', (chunk: Buffer) => (errors += chunk.toString()));
  const until = async (pattern: RegExp) => {
    while (!pattern.test(said + errors)) {
      if (server.exitCode !== null) throw new Error(said + errors);
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
  };
  await until(/Ctrl-C stops it/);
  expect(said).toContain(`names for the internet: dig @127.0.0.1 -p ${port}`);
  expect(said).toMatch(
    /booking-front 203\.0\.113\.80:443 for the internet: 127\.0\.0\.1:\d+, as tickets\.skerryline\.example/,
  );
  expect(said).toMatch(/berth-front 10\.43\.255\.20:443 for the internet: not open\. /);
  expect(readFileSync(join(out, 'stand-ins.pem'), 'utf8')).toContain('BEGIN CERTIFICATE');
  expect(statSync(join(out, 'booking-north.kubeconfig.yaml')).mode & 0o777).toBe(0o600);
  const resolver = new Resolver({ timeout: 60_000, tries: 1 });
  resolver.setServers([`127.0.0.1:${port}`]);
  expect(await resolver.resolve4('tickets.skerryline.example')).toEqual(['203.0.113.80']);
  writeFileSync(file, text.replaceAll('203.0.113.80', '203.0.113.82'));
  await until(/The file has changed: answers follow it\. Start again for listeners that are new\./);
  expect(await resolver.resolve4('tickets.skerryline.example')).toEqual(['203.0.113.82']);
  // A state that cannot be used is told, and the last good one stays.
  writeFileSync(file, '{');
  await until(/The plan file cannot be used/);
  expect(await resolver.resolve4('tickets.skerryline.example')).toEqual(['203.0.113.82']);
  const ended = new Promise((resolve) => server.once('exit', resolve));
  server.kill('SIGINT');
  expect(await ended).toBe(0);
  expect(said).toContain('Stopped; nothing listens any more.');
});

test('what cannot be started is told with its fix and exit code 2', async () => {
  const file = join(folder, 'plan.json');
  writeFileSync(file, writePlanFile(demoPlan(), 'json'));
  const run = (...args: string[]) =>
    spawnSync(process.execPath, [main, 'serve', file, '--out', folder, ...args], { encoding: 'utf8' });
  const strange = run('--from', 'the moon');
  expect([strange.status, strange.stderr]).toEqual([
    2,
    expect.stringMatching(/^There is no vantage "the moon"\. Known are the internet; machines of /),
  ]);
  expect([run('--api', 'nowhere').status, run('--first-port', '80').status]).toEqual([2, 2]);
  const server = createServer();
  await new Promise<void>((resolve) => {
    server.listen(0, '127.0.0.1', resolve);
  });
  const { port } = server.address() as AddressInfo;
  const used = run('--first-port', String(port));
  expect([used.status, used.stderr]).toEqual([2, expect.stringContaining(`Port ${port} of 127.0.0.1`)]);
  server.close();
});
