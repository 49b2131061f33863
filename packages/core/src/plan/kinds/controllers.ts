import { choice, name, note, reference, text, texts } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

/** What carries out the routes of some classes in a cluster. */
export const controllers = defineKind({
  kind: 'controllers',
  code: 'controller',
  one: 'controller',
  about: 'What carries out the routes of some classes in a cluster.',
  since: 7,
  unique: { by: ['clusterId', 'name'] },
  fields: {
    name: name('What the controller is called.'),
    clusterId: reference({
      label: 'Cluster',
      help: 'Whose routes it carries out.',
      to: 'clusters',
      onRemoval: 'cascade',
    }),
    classes: texts({
      label: 'Classes',
      help: 'Ingress and gateway classes that it serves.',
      min: 1,
      max: 20,
      maxLength: 63,
    }),
    defaultClass: text({
      label: 'Default class',
      help: 'Of its classes the one that an Ingress without a class gets when it is made; empty for none.',
      min: 0,
      max: 63,
      compare: 'exact',
      fallback: '',
      since: 13,
    }),
    tier: choice({
      label: 'Runs',
      formerly: ['Works'],
      help: 'In pods of the cluster, which a load balancer may feed, or on a load balancer of layer 7, which calls services itself.',
      options: ['in pods', 'on a load balancer'],
      fallback: 'in pods',
    }),
    serviceId: reference({
      label: 'Its service',
      help: 'The service of its own pods, where it works in pods.',
      empty: 'none',
      to: 'services',
      isOptional: true,
      onRemoval: 'drop',
    }),
    balancerId: reference({
      label: 'Load balancer',
      help: 'What feeds it, or what it works on; empty when only the cluster itself calls it.',
      empty: 'none',
      to: 'balancers',
      isOptional: true,
      onRemoval: 'drop',
    }),
    note: note(),
  },
});

/** What carries out the routes of some classes in a cluster. */
export type Controller = EntityOfFields<(typeof controllers)['fields']>;
