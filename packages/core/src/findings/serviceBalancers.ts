import { byId } from '../plan/index.js';
import { once } from '../section/index.js';
import type { ClusterService, Plan } from '../plan/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

type Parts = Pick<Plan, 'services' | 'clusters' | 'backends' | 'controllers'>;

/** Services of the type LoadBalancer. */
const asking = once((services: readonly ClusterService[]) => services.filter(({ type }) => type === 'LoadBalancer'));

/** Services that ask for a load balancer, and no one of the plan sends to them: neither by a backend nor as the service of a controller. */
export function serviceBalancers({ services, clusters, backends, controllers }: Parts): Finding[] {
  const served = new Set([
    ...backends.map(({ serviceId }) => serviceId),
    ...controllers.filter(({ balancerId }) => balancerId !== null).map(({ serviceId }) => serviceId),
  ]);
  return asking(services)
    .filter(({ id }) => !served.has(id))
    .map(({ id, namespace, name, clusterId }) =>
      finding(
        'service.no-balancer',
        'warning',
        [
          { kind: 'services', id },
          { kind: 'clusters', id: clusterId },
        ],
        { cluster: byId(clusters, clusterId)?.name ?? '', service: `${namespace}/${name}` },
      ),
    );
}
