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
        {
          title: `${byId(clusters, clusterId)?.name ?? ''}: service ${namespace}/${name} asks for a load balancer, and the plan has none for it`,
          detail: [
            'It is of the type LoadBalancer: the cluster has one made, with an address that this plan does',
            'not hold, so that neither its name nor its openings are planned. Expose it at Ingress, or enter',
            'the load balancer with a backend for it.',
          ].join(' '),
        },
      ),
    );
}
