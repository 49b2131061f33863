import { byId } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

type Parts = Pick<Plan, 'services' | 'clusters' | 'backends' | 'controllers'>;

/** Services that ask for a load balancer, and no one of the plan sends to them: neither by a backend nor as the service of a controller. */
export function serviceBalancers({ services, clusters, backends, controllers }: Parts): Finding[] {
  const served = new Set([
    ...backends.map(({ serviceId }) => serviceId),
    ...controllers.filter(({ balancerId }) => balancerId !== null).map(({ serviceId }) => serviceId),
  ]);
  return services
    .filter(({ id, type }) => type === 'LoadBalancer' && !served.has(id))
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
