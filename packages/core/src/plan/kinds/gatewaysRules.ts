import { byId } from '../collection.js';
import { readGatewayListener } from '../ingressForms.js';
import type { GatewayListener } from '../ingressForms.js';
import { notDnsLabels } from './dnsLabel.js';
import type { Gateway } from './gateways.js';
import { wrong } from './rules.js';
import type { KindRules } from './rules.js';

export const gatewaysRules: KindRules<Gateway> = {
  label: ({ name, namespace }) => `${namespace}/${name}`,
  about: ({ className, clusterId }, plan) =>
    `gateway of the class ${className} in ${byId(plan.clusters, clusterId)?.name ?? ''}`,
  betweenFields: (gateway) => {
    const read = gateway.listeners.flatMap((text) => readGatewayListener(text) ?? []);
    const twice = read.find(({ name }, at) => read.findIndex((each) => each.name === name) !== at);
    // What the API refuses itself; others that conflict it takes, and the controller leaves out.
    const placeOf = ({ protocol, port, host }: GatewayListener) => `${protocol} ${port} ${host.toLowerCase()}`;
    const doubled = read.find((each, at) => read.findIndex((other) => placeOf(other) === placeOf(each)) !== at);
    const plain = read.find(
      ({ protocol, certificate, isPassthrough }) =>
        (isPassthrough && protocol !== 'tls') || (certificate !== '' && protocol !== 'https' && protocol !== 'tls'),
    );
    return [
      ...(plain === undefined
        ? []
        : [
            wrong(
              'listeners',
              'gateway.listener-tls',
              `The listener ${plain.name} of the protocol ${plain.protocol} ${plain.isPassthrough ? 'cannot pass TLS on' : 'shows no certificate'}.`,
              plain.isPassthrough
                ? 'Choose tls, or leave passthrough out.'
                : 'Choose https or tls, or leave the certificate out.',
            ),
          ]),
      ...notDnsLabels(gateway),
      ...(gateway.namespaceTerms.length > 0 &&
      gateway.allowedRoutes !== 'labelled namespaces' &&
      read.every(({ from }) => from !== 'labelled')
        ? [
            wrong(
              'namespaceTerms',
              'gateway.namespaces',
              `It takes routes of ${gateway.allowedRoutes}, whatever the labels of a namespace.`,
              'Choose labelled namespaces, or leave the conditions empty.',
            ),
          ]
        : []),
      ...(doubled === undefined
        ? []
        : [
            wrong(
              'listeners',
              'gateway.listener-place',
              `The listener ${doubled.name} is a second one of ${doubled.protocol} at port ${doubled.port} for ${doubled.host || 'every host'}.`,
              'Give it another port or host, or leave it out.',
            ),
          ]),
      ...(twice === undefined
        ? []
        : [
            wrong(
              'listeners',
              'gateway.listener-twice',
              `Two listeners are called ${twice.name}.`,
              'Give each a name of its own.',
            ),
          ]),
    ];
  },
};
