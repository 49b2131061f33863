import { byId } from '../collection.js';
import type { Listener } from './listeners.js';
import { wrong } from './rules.js';
import type { KindRules } from './rules.js';

export const listenersRules: KindRules<Listener> = {
  label: ({ name }) => name,
  about: ({ protocol, port, balancerId }, plan) =>
    `listener ${protocol} ${port} of ${byId(plan.balancers, balancerId)?.name ?? ''}`,
  betweenFields: ({ protocol, certificate, certificateHosts }) => {
    if (protocol === 'https' || protocol === 'tls' || (certificate === '' && certificateHosts.length === 0)) return [];
    return [
      wrong(
        'certificate',
        'listener.certificate',
        `A listener of ${protocol} has no certificate: it does not end TLS.`,
        'Leave it empty, or choose https or tls.',
      ),
    ];
  },
  betweenEntities: (plan, listener) => {
    const { id, balancerId, port, protocol, backendId } = listener;
    const balancer = byId(plan.balancers, balancerId);
    const backend = byId(plan.backends, backendId ?? '');
    const isUdp = protocol === 'udp';
    const taken = plan.listeners.find(
      (each) =>
        each.id !== id && each.balancerId === balancerId && each.port === port && (each.protocol === 'udp') === isUdp,
    );
    return [
      ...(taken === undefined
        ? []
        : [
            wrong(
              'port',
              'listener.port',
              `${balancer?.name ?? ''} already listens on ${isUdp ? 'udp' : 'tcp'} ${port}, as ${taken.name}.`,
              'Choose another port, or another load balancer.',
            ),
          ]),
      ...(balancer?.layer === '4' && protocol !== 'tcp' && protocol !== 'udp'
        ? [
            wrong(
              'protocol',
              'listener.layer',
              `${balancer.name} works at layer 4 and knows no ${protocol}.`,
              'Choose tcp or udp, or a load balancer of layer 7.',
            ),
          ]
        : []),
      ...(backend !== undefined && backend.balancerId !== balancerId
        ? [
            wrong(
              'backendId',
              'listener.backend',
              `The backend ${backend.name} is of another load balancer.`,
              'Choose one of the listener’s own.',
            ),
          ]
        : []),
    ];
  },
};
