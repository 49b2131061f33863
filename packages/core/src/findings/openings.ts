import { openingsOf } from '../egress/index.js';
import type { OpeningParts } from '../egress/index.js';
import { nodeHost, POD_PORT, podHost, traceFlow } from '../forwarding/index.js';
import type { Forwarding, Host } from '../forwarding/index.js';
import { readPorts, USUAL_BYTES } from '../plan/index.js';
import type { Cluster, Plan } from '../plan/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';
import { sayFailed } from '../english/index.js';

interface Opening {
  readonly what: string;
  readonly from: Host;
  readonly to: Host;
  readonly port: number;
}

/** What a cluster needs open among its own machines and is refused: pods on other nodes, kubelet, API and etcd of a self-run control plane, BGP. */
export function missingOpenings(
  parts: OpeningParts & Pick<Plan, 'clusters'>,
  { forwarding }: { readonly forwarding: Forwarding },
): readonly Finding[] {
  return parts.clusters.flatMap((cluster) => {
    // Nothing is refused where no filter is attached.
    if (forwarding.filtersAt(cluster.id).length === 0) return [];
    const refused = tried(parts, forwarding, cluster).flatMap(({ what, from, to, port }) => {
      const aim = { address: to.address, protocol: 'tcp' as const, port, host: to, isOutside: false, label: what };
      const { verdict, failed } = traceFlow(forwarding, from, aim, USUAL_BYTES);
      if (verdict !== 'refused' || failed?.failure.code !== 'filter') return [];
      return [{ what, say: sayFailed(forwarding.parts, failed), filterId: failed.failure.filterIds[0] ?? '' }];
    });
    return refused.map(({ what, say, filterId }) =>
      finding(
        'opening.missing',
        'error',
        [
          { kind: 'filters', id: filterId },
          { kind: 'clusters', id: cluster.id },
        ],
        {
          title: `${cluster.name}: ${what} is refused on its own nodes`,
          detail: `${say} Allow it in that filter; the openings that a cluster needs can be proposed at Egress.`,
          part: `${cluster.id} ${what}`,
        },
      ),
    );
  });
}

function tried(parts: OpeningParts, forwarding: Forwarding, cluster: Cluster): Opening[] {
  const part = { clusterId: cluster.id, nodePoolId: null, zone: '' };
  const family = cluster.family === 'ipv6' ? 6 : 4;
  const [node, other] = [nodeHost(forwarding, part, family), nodeHost(forwarding, part, family, 'other')];
  const [pod, otherPod] = [podHost(forwarding, part, family), podHost(forwarding, part, family, 'other')];
  if (!node.ok || !other.ok) return [];
  const amongNodes = openingsOf(parts, cluster).flatMap(({ what, ports, isAmongNodes }) =>
    isAmongNodes === undefined
      ? []
      : ports
          .flatMap((each) => readPorts(each) ?? [])
          .map(({ first }) => ({
            what: `${inSentence(what)}, tcp ${first},`,
            from: node.value,
            to: other.value,
            port: first,
          })),
  );
  return [
    ...(pod.ok && otherPod.ok
      ? [{ what: podTraffic(cluster), from: pod.value, to: otherPod.value, port: POD_PORT }]
      : []),
    ...amongNodes,
  ];
}

/** The names of programs and interfaces have an article, those of protocols none. */
function inSentence(what: string): string {
  return what === 'kubelet' || what === 'API' ? `the ${what}` : what;
}

function podTraffic({ podMode, encapsulation, encryption }: Cluster): string {
  const layer = encryption === 'none' ? encapsulation : encryption;
  return podMode === 'overlay' || encryption !== 'none' ? `its encapsulation ${layer}` : 'traffic between its pods';
}
