import type { Plan, Question, Destination } from '../../plan/index.js';
import { byId } from '../../plan/index.js';
import type { Answer } from '../../request/index.js';
import { subjectOf } from '../../road/index.js';

/** What the answer to a question rests on: names of devices, links and machines on its road, and the sites that it touches. */
export interface Touched {
  readonly names: ReadonlySet<string>;
  readonly siteIds: ReadonlySet<string>;
  /** The clusters that it begins and ends in. */
  readonly ends: readonly string[];
  /** The zones that it names, each as site id and zone. */
  readonly zones: readonly string[];
}

/** The sites of what goes by a name: devices, load balancers, endpoints, bastions, resolvers, clusters. */
export function sitesByName(plan: Plan): ReadonlyMap<string, readonly string[]> {
  const found = new Map<string, string[]>();
  const put = (name: string, siteId: string | undefined) => {
    if (siteId === undefined) return;
    const known = found.get(name);
    if (known === undefined) found.set(name, [siteId]);
    else known.push(siteId);
  };
  for (const kind of ['natDevices', 'firewalls', 'balancers', 'endpoints', 'bastions'] as const)
    for (const { name, subnetId } of plan[kind]) put(name, byId(plan.subnets, subnetId)?.siteId);
  for (const { name, siteId } of plan.clusters) put(name, siteId);
  const inNetwork = new Map<string, Set<string>>();
  for (const { networkId, siteId } of [...plan.clusters, ...plan.subnets])
    inNetwork.set(networkId, (inNetwork.get(networkId) ?? new Set<string>()).add(siteId));
  for (const { name, networkId } of plan.resolvers)
    for (const siteId of inNetwork.get(networkId) ?? []) put(name, siteId);
  return found;
}

/** What an answer rests on. */
export function touchedBy(
  plan: Plan,
  sites: ReadonlyMap<string, readonly string[]>,
  { from, to }: Question<Destination>,
  { flows, members, standby, via, resolution }: Answer,
): Touched {
  const names = new Set<string>();
  const siteIds = new Set<string>();
  const ends = [from, to].flatMap((place) => ('clusterId' in place ? [place.clusterId] : []));
  for (const id of ends) {
    const site = byId(plan.clusters, id)?.siteId;
    if (site !== undefined) siteIds.add(site);
  }
  const zones = [from, to].flatMap((place) =>
    'zone' in place && place.zone !== '' ? [`${byId(plan.clusters, place.clusterId)?.siteId ?? ''} ${place.zone}`] : [],
  );
  for (const { name } of via) names.add(name);
  for (const { cluster } of [...members, ...standby]) names.add(cluster);
  for (const { forth, back } of flows)
    for (const event of [...forth, ...back]) {
      names.add(event.spot.name);
      const subject = subjectOf(event);
      const member = subject?.kind === 'members' ? byId(plan.members, subject.id) : undefined;
      const cluster = byId(plan.clusters, member?.clusterId ?? '');
      if (cluster !== undefined) names.add(cluster.name);
      if (subject?.kind === 'links') names.add(byId(plan.links, subject.id)?.name ?? '');
    }
  // A name that was asked for went to resolvers of the networks around.
  if (resolution !== undefined) for (const { name } of plan.resolvers) names.add(name);
  for (const name of names) for (const site of sites.get(name) ?? []) siteIds.add(site);
  return { names, siteIds, ends, zones };
}
