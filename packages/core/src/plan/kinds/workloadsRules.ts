import { byId } from '../collection.js';
import { readContainerPort } from '../textForms.js';
import { notDnsLabels } from './dnsLabel.js';
import { wrong } from './rules.js';
import type { FieldProblem, KindRules } from './rules.js';
import type { Workload } from './workloads.js';

export const workloadsRules: KindRules<Workload> = {
  label: ({ name, namespace }) => `${namespace}/${name}`,
  about: ({ replicasNow, clusterId }, plan) =>
    `workload of ${replicasNow} ${replicasNow === 1 ? 'pod' : 'pods'} in ${byId(plan.clusters, clusterId)?.name ?? ''}`,
  betweenFields: (workload) => [
    ...notDnsLabels(workload),
    ...belowRequest(workload),
    ...beyondReplicas(workload),
    ...twiceNamed(workload.ports.flatMap((text) => readContainerPort(text)?.name ?? [])),
  ],
  betweenEntities: (plan, { clusterId, nodePoolId }) => {
    const pool = byId(plan.nodePools, nodePoolId ?? '');
    if (pool === undefined || pool.clusterId === clusterId) return [];
    return [
      wrong(
        'nodePoolId',
        'workload.pool',
        `The node pool ${pool.name} is of another cluster.`,
        'Choose one of the workload’s own cluster.',
      ),
    ];
  },
};

function twiceNamed(names: readonly string[]) {
  const twice = names.find((name, at) => name !== '' && names.indexOf(name) !== at);
  if (twice === undefined) return [];
  return [
    wrong('ports', 'workload.port-twice', `Two container ports are called ${twice}.`, 'Give each a name of its own.'),
  ];
}

function beyondReplicas({ notReady, replicasNow }: Workload): FieldProblem[] {
  if (notReady <= replicasNow) return [];
  return [
    wrong(
      'notReady',
      'workload.not-ready',
      `${notReady} pods are not ready, and it has ${replicasNow}.`,
      `Enter at most ${replicasNow}.`,
    ),
  ];
}

/** A limit below what is asked for, which the Kubernetes API refuses (from memory of its documentation). */
function belowRequest({ cpuMillis, cpuLimit, memoryMib, memoryLimit }: Workload): FieldProblem[] {
  const check = (field: string, what: string, unit: string, asked: number, most: number | null) =>
    most === null || most >= asked
      ? []
      : [
          wrong(
            field,
            'workload.limit',
            `The ${what} limit of ${most} ${unit} is below the request of ${asked} ${unit}.`,
            'Raise the limit, or ask for less.',
          ),
        ];
  return [
    ...check('cpuLimit', 'CPU', 'm', cpuMillis, cpuLimit),
    ...check('memoryLimit', 'memory', 'MiB', memoryMib, memoryLimit),
  ];
}
