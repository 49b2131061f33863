import { byId } from '../collection.js';
import { readContainerPort } from '../textForms.js';
import { notDnsLabels } from './dnsLabel.js';
import { wrong } from './rules.js';
import type { KindRules } from './rules.js';
import type { Workload } from './workloads.js';

export const workloadsRules: KindRules<Workload> = {
  label: ({ name, namespace }) => `${namespace}/${name}`,
  about: ({ replicasNow, clusterId }, plan) =>
    `workload of ${replicasNow} ${replicasNow === 1 ? 'pod' : 'pods'} in ${byId(plan.clusters, clusterId)?.name ?? ''}`,
  betweenFields: (workload) => [
    ...notDnsLabels(workload),
    ...twiceNamed(workload.ports.flatMap((text) => readContainerPort(text)?.name ?? [])),
  ],
  betweenEntities: (plan, { clusterId, nodePoolId }) => {
    const pool = byId(plan.nodePools, nodePoolId ?? '');
    if (pool === undefined || pool.clusterId === clusterId) return [];
    return [
      wrong('nodePoolId', 'workload.pool', `The node pool ${pool.name} is of another cluster.`, 'Choose one of the workload’s own cluster.'),
    ]; // prettier-ignore
  },
};

function twiceNamed(names: readonly string[]) {
  const twice = names.find((name, at) => name !== '' && names.indexOf(name) !== at);
  if (twice === undefined) return [];
  return [wrong('ports', 'workload.port-twice', `Two container ports are called ${twice}.`, 'Give each a name of its own.')]; // prettier-ignore
}
