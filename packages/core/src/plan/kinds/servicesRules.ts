import { byId } from '../collection.js';
import { readServicePort } from '../textForms.js';
import { notDnsLabels } from './dnsLabel.js';
import { wrong } from './rules.js';
import type { FieldProblem, KindRules } from './rules.js';
import type { ClusterService } from './services.js';

export const servicesRules: KindRules<ClusterService> = {
  label: ({ name, namespace }) => `${namespace}/${name}`,
  about: ({ type, clusterId }, plan) => `${type} service in ${byId(plan.clusters, clusterId)?.name ?? ''}`,
  betweenFields: (service) => [...notDnsLabels(service), ...unfitting(service), ...unfittingPorts(service)],
};

/** What the type of a service does not take, as the Kubernetes API refuses it. From memory of its documentation. */
function unfitting({ type, address, selector, externalName, endpoints }: ClusterService): FieldProblem[] {
  const problems: FieldProblem[] = [];
  if (type === 'ExternalName' && externalName === '')
    problems.push(
      wrong(
        'externalName',
        'service.no-name',
        'An ExternalName service stands for another name.',
        'Enter the host name.',
      ),
    );
  if (type !== 'ExternalName' && externalName !== '')
    problems.push(
      wrong(
        'externalName',
        'service.name',
        `A ${type} service stands for no other name.`,
        'Leave the external name empty, or choose the type ExternalName.',
      ),
    );
  if (type === 'ExternalName' && selector.length > 0)
    problems.push(
      wrong('selector', 'service.selector', 'An ExternalName service selects no pods.', 'Leave the selector empty.'),
    );
  if (endpoints.length > 0 && (selector.length > 0 || type === 'ExternalName'))
    problems.push(
      wrong(
        'endpoints',
        'service.endpoints',
        type === 'ExternalName'
          ? 'An ExternalName service has no endpoints.'
          : `It selects pods by ${selector.join(', ')}: the cluster writes its endpoints itself.`,
        'Leave the endpoints empty, or leave the selector empty and choose another type.',
      ),
    );
  if ((type === 'headless' || type === 'ExternalName') && address !== null)
    problems.push(
      wrong(
        'address',
        'service.address',
        `A service of the type ${type} has no address of its own.`,
        'Leave the cluster address empty.',
      ),
    );
  return problems;
}

/** The same of its ports. */
function unfittingPorts({ type, ports }: ClusterService): FieldProblem[] {
  const problems: FieldProblem[] = [];
  if (ports.length === 0 && type !== 'headless' && type !== 'ExternalName')
    problems.push(
      wrong(
        'ports',
        'service.no-port',
        `A ${type} service has at least one port.`,
        'Enter one, such as tcp 80 to http.',
      ),
    );
  const read = ports.flatMap((text) => readServicePort(text) ?? []);
  const fixed = read.find(({ nodePort }) => nodePort !== undefined);
  if (fixed !== undefined && type !== 'NodePort' && type !== 'LoadBalancer')
    problems.push(
      wrong(
        'ports',
        'service.node-port',
        `A service of the type ${type} has no NodePort.`,
        `Leave out node ${fixed.nodePort ?? 0}, or choose NodePort or LoadBalancer.`,
      ),
    );
  const twice = read.find(
    ({ protocol, port }, at) => read.findIndex((each) => each.protocol === protocol && each.port === port) !== at,
  );
  if (twice !== undefined)
    problems.push(
      wrong(
        'ports',
        'service.port-twice',
        `${twice.protocol} ${twice.port} is there twice.`,
        'Each protocol and port may be listed once.',
      ),
    );
  return problems;
}
