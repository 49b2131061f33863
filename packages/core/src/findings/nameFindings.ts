import { parseAddress } from '../address/index.js';
import { readFullName } from '../zones/index.js';
import { clientsOf, codeOf, naming, selfRunNames, typeTo, wantedByCluster } from '../naming/index.js';
import type { NameState, Resolution, WantedHost } from '../naming/index.js';
import { byId } from '../plan/index.js';
import type { Cluster } from '../plan/index.js';
import { bySubject, foundIn, together, unless } from '../section/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

const none: readonly never[] = [];

/** Hosts of services, routes and gateways that their clients do not find. */
export const unansweredHosts = bySubject({
  name: 'hosts by cluster',
  reads: [],
  needs: { naming, wanted: wantedByCluster },
  subjects: (_, needed) => (needed.naming.parts.zones.length === 0 ? none : needed.naming.parts.clusters),
  dependsOn: ({ id }, _, needed) => {
    const wanted = needed.wanted.looks.of(id)?.found ?? [];
    return wanted.length === 0 ? [] : [wanted, ...wanted.map((each) => answerTo(needed.naming, each)?.answer)];
  },
  near: ({ needed: was }, { needed: is }) =>
    together(
      unless(
        [is.naming.answers.follows(was.naming.answers), true],
        [haveClientsStayed(was.naming.parts, is.naming.parts), true],
      ),
      foundIn(was.wanted, is.wanted),
    ),
  look: ({ id }, _, needed) => unanswered(needed.naming, needed.wanted.looks.of(id)?.found ?? []),
});

/** Whether the clients of each load balancer are in the network where they were: that of its subnet. */
function haveClientsStayed(was: NameState['parts'], is: NameState['parts']): boolean {
  if (was.subnets === is.subnets) return true;
  return is.balancers.every(
    ({ subnetId }) => byId(was.subnets, subnetId)?.networkId === byId(is.subnets, subnetId)?.networkId,
  );
}

/** What clients of a host get; undefined where none ask for it as it is written, or where they are is not known. */
function answerTo(state: NameState, wanted: WantedHost): { answer: Resolution; clients: string } | undefined {
  const { host, balancer } = wanted;
  const clients = clientsOf(state, wanted);
  if (host.startsWith('*.') || clients === undefined || parseAddress(host).ok) return undefined;
  return { answer: state.answers.of(clients, `${host}.`, typeTo(balancer)), clients };
}

function unanswered(state: NameState, all: readonly WantedHost[]): Finding[] {
  return all.flatMap((wanted): Finding[] => {
    const { host, cluster, subject, balancer } = wanted;
    const answered = answerTo(state, wanted);
    if (answered === undefined) return [];
    const { outcome, why, records } = answered.answer;
    const subjects = [subject, { kind: 'clusters', id: cluster.id }] as const;
    const part = `${cluster.id} ${host}`;
    if (outcome !== 'answer')
      return [
        finding(
          'name.unanswered',
          'error',
          subjects,
          {
            host,
            asker: state.answers.askerIn(answered.clients).label,
            answer: codeOf[outcome],
            why,
            balancer: balancer?.name,
            cluster: cluster.name,
          },
          { part },
        ),
      ];
    const address = records.at(-1)?.value ?? '';
    if (balancer?.address != null && !records.some(({ value }) => value === balancer.address))
      return [
        finding(
          'name.elsewhere',
          'error',
          subjects,
          { host, address, balancer: balancer.name, own: balancer.address },
          { part },
        ),
      ];
    return [];
  });
}

/** Names of self-run clusters that are not answered in their own network. */
export const selfRunFindings = bySubject({
  name: 'self-run names',
  reads: [],
  needs: { naming },
  subjects: (_, needed) =>
    needed.naming.parts.zones.length === 0
      ? []
      : needed.naming.parts.clusters.filter((cluster) => selfRunNames(cluster) !== undefined),
  dependsOn: (cluster, _, needed) => [
    cluster,
    needed.naming.zoneAround(cluster.baseDomain),
    ...askedFor(cluster).map(({ name, isName }) => (isName ? selfRunAnswer(needed.naming, cluster, name) : undefined)),
  ],
  look: (cluster, _, needed) => selfRun(needed.naming, cluster),
});

/** The names that a self-run cluster asks for while it is installed: of its routes any one. */
function askedFor(cluster: Cluster): { readonly name: string; readonly shown: string; readonly isName: boolean }[] {
  const names = selfRunNames(cluster);
  if (names === undefined) return [];
  return [names.api, names.apps].map((shown) => {
    const name = shown.replace('*', 'any');
    return { name, shown, isName: readFullName(name).ok };
  });
}

function selfRunAnswer(state: NameState, { networkId, family }: Cluster, name: string): Resolution {
  return state.answers.of(networkId, `${name}.`, family === 'ipv6' ? 'AAAA' : 'A');
}

function selfRun(state: NameState, cluster: Cluster): Finding[] {
  // Counted where it is mended: at the zone that is to hold the name.
  const zone = state.zoneAround(cluster.baseDomain);
  const subjects = [
    ...(zone === undefined ? [] : [{ kind: 'zones' as const, id: zone.id }]),
    { kind: 'clusters' as const, id: cluster.id },
  ];
  return askedFor(cluster).flatMap(({ name, shown }): Finding[] => {
    const read = readFullName(name);
    if (!read.ok)
      return [
        finding(
          'name.too-long',
          'error',
          subjects,
          { cluster: cluster.name, name: shown.slice(0, 60), problem: `${read.problem.message} ${read.problem.fix}` },
          { part: `${cluster.id} ${shown}` },
        ),
      ];
    const { outcome, why } = selfRunAnswer(state, cluster, name);
    if (outcome === 'answer') return [];
    return [
      finding(
        'name.self-run',
        'error',
        subjects,
        { cluster: cluster.name, name: shown, answer: codeOf[outcome], why },
        { part: `${cluster.id} ${shown}` },
      ),
    ];
  });
}
