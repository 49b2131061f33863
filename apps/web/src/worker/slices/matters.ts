import { proposeEgress } from '@wide-lattice/core/egress';
import { inWords, markOf } from '@wide-lattice/core/findings';
import type { DescribedFinding } from '@wide-lattice/core/findings';
import { worthAsking } from '@wide-lattice/core/plan';
import type { AskingStop, Plan, WorthAsking } from '@wide-lattice/core/plan';
import { stopOf } from '../../kinds/kindViews';
import type { SliceHost } from '../sliceHost';

/** The next thing to do at a stop, and what of its address leads there. */
interface Missing {
  readonly text: string;
  readonly action: string;
  readonly search: Readonly<Record<string, string>>;
  /** Another stop, where it is done there. */
  readonly path?: string;
}

/** What a stop opens on: what is broken there, what is missing in the order of work, and what is worth asking. */
export interface Matters {
  /** The worst first; as many as fit, with how many there are. */
  readonly broken: readonly DescribedFinding[];
  readonly errors: number;
  readonly warnings: number;
  readonly missing: readonly Missing[];
  /** Whether there are no clusters, so that nothing can be said of the stop. */
  readonly isEmpty: boolean;
  readonly asks: readonly WorthAsking[];
}

const MAX_BROKEN = 3;

/** Clusters up to which it is looked whether the decisions ask for more than is there. */
const MAX_PROPOSED = 250;

/** What matters at a stop now. */
export function mattersAt({ evaluation, plan }: SliceHost, stop: AskingStop): Matters {
  const isEmpty = plan.clusters.length === 0;
  const here = evaluation.findings().filter((finding) => stopOf(markOf(finding)) === stop);
  const errors = here.filter(({ severity }) => severity === 'error');
  const warnings = here.filter(({ severity }) => severity === 'warning');
  return {
    broken: [...errors, ...warnings].slice(0, MAX_BROKEN).map((each) => inWords(plan, each)),
    errors: errors.length,
    warnings: warnings.length,
    missing: isEmpty ? [noClusters] : missingAt[stop](plan),
    isEmpty,
    asks: worthAsking(plan, stop),
  };
}

const noClusters: Missing = {
  text: 'There are no clusters yet.',
  action: 'Add clusters',
  search: { show: 'clusters' },
  path: 'demand',
};

/** One step, where it is missing. */
function step(isMissing: boolean, text: string, action: string, search: Missing['search']): readonly Missing[] {
  return isMissing ? [{ text, action, search }] : [];
}

const missingAt: Readonly<Record<AskingStop, (plan: Plan) => readonly Missing[]>> = {
  egress: (plan) => {
    const asked = plan.clusters.length > MAX_PROPOSED ? 0 : proposeEgress(plan).groups.length;
    const groups = asked === 1 ? 'one group of rows that is' : `${asked} groups of rows that are`;
    return [
      ...step(plan.needs.length === 0, 'Nothing says yet what the clusters must reach.', 'Enter needs', {
        show: 'needs',
      }),
      ...step(asked > 0, `The decisions ask for ${groups} not there.`, 'See them', { side: 'propose' }),
      ...step(
        plan.expectations.length === 0,
        'No question is kept as an expectation: a way that is lost would go unnoticed.',
        'Keep one',
        { show: 'expectations' },
      ),
    ];
  },
  ingress: ({ workloads, services, ingressRoutes, networkPolicies }) => [
    ...step(workloads.length === 0, 'No workloads are entered, so no calls are answered yet.', 'Read manifests', {
      side: 'manifests',
    }),
    ...step(
      workloads.length > 0 && services.length === 0,
      'Workloads have no services: nothing calls them by a name.',
      'Enter services',
      { show: 'services' },
    ),
    ...step(services.length > 0 && ingressRoutes.length === 0, 'No service is called from outside.', 'Expose one', {
      side: 'expose',
    }),
    ...step(
      services.length > 0 && networkPolicies.length === 0,
      'No network policy limits calls between pods.',
      'Enter policies',
      { show: 'networkPolicies' },
    ),
  ],
  dns: ({ zones, resolvers, ingressRoutes, certificates }) => [
    ...step(zones.length === 0, 'No zones are entered: names have no answers.', 'Propose names', { side: 'propose' }),
    ...step(
      zones.length > 0 && resolvers.length === 0,
      'No resolver is entered: networks ask that of their provider.',
      'Enter resolvers',
      { show: 'resolvers' },
    ),
    ...step(
      ingressRoutes.length > 0 && certificates.length === 0,
      'No certificates are entered: their renewal is not planned.',
      'Propose names',
      { side: 'propose' },
    ),
  ],
  'cross-cluster': ({ connections, serviceExports }) => [
    ...step(connections.length === 0, 'No clusters are joined yet.', 'Choose how', { side: 'choose' }),
    ...step(
      connections.length > 0 && serviceExports.length === 0,
      'Clusters are joined, and no service is exported.',
      'Export one',
      { show: 'serviceExports' },
    ),
  ],
};
