import { byId } from '../collection.js';
import { readStep } from '../textForms.js';
import type { Cluster } from './clusters.js';
import { wrong } from './rules.js';
import type { KindRules } from './rules.js';

/** Usual headings of lists for one field. */
const heads = (field: string, ...words: readonly string[]) => Object.fromEntries(words.map((word) => [word, field]));

export const clustersRules: KindRules<Cluster> = {
  label: ({ name }) => name,
  about: ({ siteId, podMode }, plan) => `cluster at ${byId(plan.sites, siteId)?.name ?? ''}, ${podMode} pods`,
  headings: {
    ...heads('name', 'clustername'),
    ...heads('siteId', 'sitename', 'region', 'location', 'place', 'datacenter', 'datacentre', 'facility'),
    ...heads('networkId', 'networkname', 'vpc', 'vpcname', 'virtualnetwork', 'vrf'),
    ...heads('nodesNow', 'nodes', 'nodecount', 'numberofnodes', 'currentnodes', 'workers', 'workernodes', 'minnodes'),
    ...heads(
      'nodesHorizon',
      'athorizon',
      'maxnodes',
      'nodesmax',
      'nodesatmost',
      'maximumnodes',
      'maxnodecount',
      'plannednodes',
    ),
    ...heads('podsPerNode', 'maxpods', 'maxpodspernode'),
  },
  // A list that only counts today's nodes plans no growth yet.
  follows: { nodesHorizon: 'nodesNow' },
  betweenFields: ({ services, nodePortServices, balancerServices, headlessServices, growthSteps }) => {
    const ofKind = nodePortServices + balancerServices + headlessServices;
    const months = growthSteps.map((text) => readStep(text)?.month ?? 0);
    const isRising = months.every((month, i) => i === 0 || month > (months[i - 1] ?? 0));
    return [
      ...(ofKind <= services
        ? []
        : [
            wrong(
              'services',
              'services.kinds',
              `${ofKind} services are NodePort, LoadBalancer or headless, and there are ${services} in all.`,
              'Raise the services, or lower one of these kinds.',
            ),
          ]),
      ...(isRising
        ? []
        : [
            wrong(
              'growthSteps',
              'growth.order',
              'The months of growth steps do not rise.',
              'Put them in order, each month once.',
            ),
          ]),
    ];
  },
};
