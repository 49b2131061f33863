import { existsSync, mkdirSync, readFileSync, watch, writeFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { readPlanFile } from '@wide-lattice/core/exchange';
import type { Plan } from '@wide-lattice/core/plan';
import { StandInProblem, StandIns, vantageNames } from '@wide-lattice/standins';
import type { StandInReport } from '@wide-lattice/standins';
import { problemLines } from './commands.js';

/** What is asked for on the command line. */
export interface ServeOptions {
  readonly from: readonly string[];
  readonly api: readonly string[];
  readonly firstPort?: number;
  readonly minutes?: number;
  readonly healthSeconds?: number;
  /** Where the authority’s certificate and kubeconfigs are written. */
  readonly out: string;
}

/** How long a changed file is left alone, since editors write in several steps. */
const SETTLE_MS = 200;

/**
 * Has a plan file answer at ports of loopback until it is stopped or its time is over, from what the file says at each moment. Gives the
 * exit code: 0, or 2 where it cannot be started.
 */
export async function serve(
  file: string,
  options: ServeOptions,
  print: (line: string) => void,
  complain: (line: string) => void,
): Promise<number> {
  const text = textOf(file, complain);
  const plan = text === undefined ? undefined : planOf(text, complain);
  if (text === undefined || plan === undefined) return 2;
  const vantages = keysOf(vantageNames(plan), options.from, 'vantage', complain);
  const clusters = keysOf(
    plan.clusters.map(({ id, name }) => ({ key: id, label: name })),
    options.api,
    'cluster',
    complain,
  );
  if (vantages === undefined || clusters === undefined) return 2;
  let standIns: StandIns;
  try {
    const { firstPort, minutes, healthSeconds } = options;
    standIns = await StandIns.start(plan, { vantages, clusters, firstPort, minutes, healthSeconds });
  } catch (error) {
    if (!(error instanceof StandInProblem)) throw error;
    complain(`${error.message} ${error.fix}`);
    return 2;
  }
  writeFiles(standIns, plan, clusters, options.out);
  for (const line of linesOf(standIns.report(), options.out)) print(line);
  const ended = new Promise<void>((resolve) => {
    standIns.onceEnded(resolve);
  });
  const stopWatching = follow({ file, text }, standIns, print, complain);
  const stop = () => void standIns.stop();
  process.once('SIGINT', stop);
  process.once('SIGTERM', stop);
  await ended;
  stopWatching();
  process.off('SIGINT', stop);
  process.off('SIGTERM', stop);
  print('Stopped; nothing listens any more.');
  return 0;
}

/** The text of a file, or undefined and why it cannot be read. */
function textOf(file: string, complain: (line: string) => void): string | undefined {
  try {
    return readFileSync(file, 'utf8');
  } catch (error) {
    complain(`${file} cannot be read: ${error instanceof Error ? error.message : String(error)}`);
    return undefined;
  }
}

function planOf(text: string, complain: (line: string) => void): Plan | undefined {
  const read = readPlanFile(text);
  if (read.ok) return read.plan;
  for (const line of problemLines(read.problems)) complain(line);
  return undefined;
}

function keysOf(
  all: readonly { readonly key: string; readonly label: string }[],
  wanted: readonly string[],
  what: string,
  complain: (line: string) => void,
): string[] | undefined {
  const found = wanted.map((text) => all.find(({ label }) => label.toLowerCase() === text.trim().toLowerCase())?.key);
  const at = found.indexOf(undefined);
  if (at < 0) return found.flatMap((key) => key ?? []);
  const some = all.slice(0, 8).map(({ label }) => label);
  complain(
    `There is no ${what} "${wanted[at] ?? ''}". Known are ${some.join('; ')}${all.length > 8 ? ' and others' : ''}.`,
  );
  return undefined;
}

function writeFiles(standIns: StandIns, plan: Plan, clusters: readonly string[], folder: string): void {
  mkdirSync(folder, { recursive: true });
  writeFileSync(join(folder, 'stand-ins.pem'), standIns.authorityPem);
  for (const id of clusters) {
    const name = plan.clusters.find((each) => each.id === id)?.name ?? id;
    // Only the one who started them may read with it.
    writeFileSync(
      join(folder, `${name.replaceAll(/[^\w.-]/g, '-')}.kubeconfig.yaml`),
      standIns.kubeconfigOf(id, '') ?? '',
      {
        mode: 0o600,
      },
    );
  }
}

function linesOf(report: StandInReport, folder: string): string[] {
  const { address, names, doors, apis, endsAt } = report;
  return [
    ...names.map(({ vantage, port }) => `names for ${vantage}: dig @${address} -p ${port}`),
    ...doors.map(({ vantage, balancer, address: own, port, localPort, host, why }) =>
      localPort === null
        ? `${balancer} ${own}:${port} for ${vantage}: not open. ${why}`
        : `${balancer} ${own}:${port} for ${vantage}: ${address}:${localPort}${host === '' ? '' : `, as ${host}`}`,
    ),
    ...apis.map(({ cluster, port }) => `API of ${cluster}: https://${address}:${port}`),
    `Certificates and kubeconfigs are in ${folder}. It follows the file until ${new Date(endsAt).toISOString()}; Ctrl-C stops it.`,
  ];
}

/** Hands each new state of the file on; one that cannot be used is told, and the last good one stays. */
function follow(
  { file, text: given }: { readonly file: string; readonly text: string },
  standIns: StandIns,
  print: (line: string) => void,
  complain: (line: string) => void,
): () => void {
  let timer: NodeJS.Timeout | undefined;
  let last = given;
  const look = () => {
    // Between two steps of an editor there may be none; the next step is told, too.
    const text = existsSync(file) ? textOf(file, complain) : undefined;
    if (text === undefined || text === last) return;
    last = text;
    const plan = planOf(text, complain);
    if (plan === undefined) return;
    standIns.follow(plan);
    const more = standIns.report().isOutdated ? ' Start again for listeners that are new.' : '';
    print(`The file has changed: answers follow it.${more}`);
  };
  // Editors put a new file in its place, which only the folder tells.
  const watcher = watch(dirname(file), (_, name) => {
    if (name !== null && name !== basename(file)) return;
    clearTimeout(timer);
    timer = setTimeout(look, SETTLE_MS);
  });
  return () => {
    clearTimeout(timer);
    watcher.close();
  };
}
