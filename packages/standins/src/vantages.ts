import { formatAddress } from '@wide-lattice/core/address';
import type { IngressState } from '@wide-lattice/core/ingress';
import { byId, writePlace } from '@wide-lattice/core/plan';
import type { Place, Plan } from '@wide-lattice/core/plan';

/** A place of the plan from which stand-ins are asked. */
export interface Vantage {
  readonly key: string;
  /** As a question names it: "the internet", "pod of booking-north", "10.20.0.4 in head-office". */
  readonly label: string;
  readonly place: Place;
}

/** Told of stand-ins whose vantage was removed from the plan since they were started. */
export const VANTAGE_GONE = 'The vantage is no longer in the plan.';

/** A vantage that can be chosen. */
export interface VantageName {
  readonly key: string;
  readonly label: string;
}

/** The vantages that a plan offers: the internet, its networks, the pods of each cluster and of each workload. */
export function vantageNames(plan: Pick<Plan, 'networks' | 'clusters' | 'workloads'>): VantageName[] {
  const { networks, clusters, workloads } = plan;
  return [
    { key: 'internet', label: 'the internet' },
    ...networks.map(({ id, name }) => ({ key: id, label: `machines of ${name}` })),
    ...clusters.map(({ id, name }) => ({ key: id, label: `pods of ${name}` })),
    ...workloads.map(({ id, namespace, name, clusterId }) => ({
      key: id,
      label: `pods of ${byId(clusters, clusterId)?.name ?? ''}, workload ${namespace}/${name}`,
    })),
  ];
}

/** Where somebody at a vantage stands; undefined where nothing is planned there that could ask. */
export function vantageOf(state: IngressState, plan: Plan, key: string): Vantage | undefined {
  const place = placeOf(state, plan, key);
  return place === undefined ? undefined : { key, label: writePlace(plan, place), place };
}

function placeOf(state: IngressState, { networks, clusters, workloads }: Plan, key: string): Place | undefined {
  if (key === 'internet') return { kind: 'internet' };
  const workload = byId(workloads, key);
  const cluster = byId(clusters, workload?.clusterId ?? key);
  if (cluster !== undefined)
    return state.names.machineOf(cluster) === undefined
      ? undefined
      : {
          kind: 'pod',
          clusterId: cluster.id,
          nodePoolId: null,
          zone: '',
          ...(workload === undefined ? {} : { workloadId: workload.id }),
        };
  const machine = byId(networks, key) !== undefined ? state.names.machineIn(key) : undefined;
  return machine === undefined
    ? undefined
    : { kind: 'address', address: formatAddress(machine.address), networkId: key };
}
