import { choices, name, note, reference, texts } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';
import { keptFields, namespace } from './workloads.js';

const rules = (label: string, help: string) =>
  texts({ label, help, min: 0, max: 64, maxLength: 400, form: 'policyRule', fallback: [] });

/** Which pods may be called by whom, and may call whom: a NetworkPolicy of the Kubernetes API. */
export const networkPolicies = defineKind({
  kind: 'networkPolicies',
  code: 'networkPolicy',
  one: 'network policy',
  about: 'Which calls pods may accept, and which they may make.',
  since: 7,
  unique: { by: ['clusterId', 'namespace', 'name'] },
  fields: {
    name: name('What the policy is called.'),
    clusterId: reference({ label: 'Cluster', help: 'Where it is.', to: 'clusters', onRemoval: 'cascade' }),
    namespace: namespace('The namespace it is in; it selects pods of the same.'),
    selector: texts({
      label: 'Pods',
      help: 'Conditions on the labels of the pods it is about: app=web, tier in (a, b), tier, !tier. Empty for every pod of the namespace.',
      min: 0,
      max: 16,
      maxLength: 320,
      form: 'selectorTerm',
      fallback: [],
    }),
    directions: choices({
      label: 'Directions',
      help: 'Which calls it is about. Empty for ingress, and egress when there are rules for it.',
      options: ['ingress', 'egress'],
      min: 0,
      fallback: [],
    }),
    allowIn: rules(
      'Allows from',
      'Who may call them, each as peers and ports: pods app=web in namespaces team=a on tcp 8080.',
    ),
    allowOut: rules(
      'Allows to',
      'Which they may call, written the same way: 10.0.0.0/8 except 10.1.0.0/16 on tcp 443.',
    ),
    preserved: keptFields(),
    note: note(),
  },
});

/** Which pods may be called by whom, and may call whom. */
export type NetworkPolicy = EntityOfFields<(typeof networkPolicies)['fields']>;
