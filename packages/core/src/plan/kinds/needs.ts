import { choice, name, note, ports, prefixes, references, texts } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';
import { protocol } from './ruleFields.js';

const scope = (label: string, help: string, to: string) =>
  references({ label, help, to, min: 0, max: 1000, onRemoval: 'drop', fallback: [] });

/** What clusters must reach: a registry, time, package mirrors, a service elsewhere. */
export const needs = defineKind({
  kind: 'needs',
  code: 'need',
  one: 'need',
  about: 'What clusters must reach: a registry, time, package mirrors, a service elsewhere.',
  since: 5,
  unique: { by: ['name'] },
  fields: {
    name: name('What is needed.'),
    hosts: texts({
      label: 'Host names',
      help: 'Names it is known by; for information.',
      min: 0,
      max: 64,
      maxLength: 253,
      form: 'host',
      fallback: [],
    }),
    prefixes: prefixes({
      label: 'Prefixes',
      help: 'Where it answers; empty when it is reached by its private endpoints.',
      min: 0,
      max: 64,
      fallback: [],
    }),
    protocol: protocol(),
    ports: ports('The ports it answers on.'),
    access: choice({
      label: 'Access',
      help: 'Reached at its prefixes, or through a private endpoint.',
      options: ['prefixes', 'private endpoint'],
      fallback: 'prefixes',
    }),
    endpointIds: scope(
      'Endpoints',
      'The private endpoints that lead to it; the first that is in the network of a cluster is used.',
      'endpoints',
    ),
    siteIds: scope('Sites', 'Needed by the clusters at these sites.', 'sites'),
    templateIds: scope('Templates', 'Needed by the clusters made from these templates.', 'templates'),
    clusterIds: scope(
      'Clusters',
      'Needed by these clusters. With no site, template or cluster named: by all.',
      'clusters',
    ),
    note: note(),
  },
});

/** What clusters must reach: a registry, time, package mirrors, a service elsewhere. */
export type Need = EntityOfFields<(typeof needs)['fields']>;
