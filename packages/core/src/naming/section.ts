import { forwarding } from '../forwarding/index.js';
import { byId, grouped, parentsOf } from '../plan/index.js';
import { bySubject, ownersIn, section, together, unless } from '../section/index.js';
import { wantedHostsOf } from './hosts.js';
import { namingReads } from './heldNames.js';
import { NameState } from './nameState.js';
import { VantageTable } from './vantages.js';

/** The names of the plan, compiled as they are asked for; after an edit of records only their names are compiled anew. */
export const naming = section({
  name: 'naming',
  reads: namingReads,
  needs: { forwarding },
  build: (parts, needed) => new NameState(parts, needed.forwarding),
  follow: (last, parts, needed) => new NameState(parts, needed.forwarding, last.value),
});

/** Recorded names at every vantage; after edits of records only the names that they can change are asked again. */
export const vantages = section({
  name: 'vantages',
  reads: [],
  needs: { naming },
  build: (_, needed) => VantageTable.of(needed.naming),
  follow: ({ value }, _, needed) => value.after(needed.naming),
});

/** The names that each cluster’s services, routes and gateways are for. */
export const wantedByCluster = bySubject({
  name: 'wanted names',
  reads: [],
  needs: { naming },
  subjects: (_, needed) => needed.naming.parts.clusters,
  dependsOn: (cluster, _, needed) => {
    const { parts } = needed.naming;
    const own = <E extends { readonly clusterId: string }>(items: readonly E[]) =>
      grouped<'clusterId', E>(items, 'clusterId').get(cluster.id) ?? [];
    const services = own(parts.services).filter(({ hosts }) => hosts.length > 0);
    const routes = own(parts.ingressRoutes);
    if (services.length + routes.length === 0) return [];
    const controllers = own(parts.controllers);
    return [
      cluster,
      ...services,
      ...(services.length === 0 ? [] : [parts.backends, parts.balancers]),
      ...routes,
      ...routes.flatMap((route) => parentsOf(parts, route).map(({ gateway }) => gateway)),
      ...controllers,
      ...controllers.map(({ balancerId }) => byId(parts.balancers, balancerId ?? '')),
    ];
  },
  near: ({ needed: { naming: was } }, { needed: { naming: is } }) =>
    together(
      unless([was.parts.balancers, is.parts.balancers], [was.parts.backends, is.parts.backends]),
      ownersIn(was.parts, is.parts, ['clusters'], 'id'),
      ownersIn(was.parts, is.parts, ['services', 'ingressRoutes', 'gateways', 'controllers']),
    ),
  look: (cluster, _, needed) => wantedHostsOf(needed.naming.parts, cluster),
});
