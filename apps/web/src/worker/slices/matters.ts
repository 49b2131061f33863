import { proposeEgress } from '@wide-lattice/core/egress';
import type { Finding } from '@wide-lattice/core/findings';
import { worthAsking } from '@wide-lattice/core/plan';
import type { AskingStop, Kind, Plan, WorthAsking } from '@wide-lattice/core/plan';
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
  readonly broken: readonly Finding[];
  readonly errors: number;
  readonly warnings: number;
  readonly missing: readonly Missing[];
  readonly asks: readonly WorthAsking[];
}

const MOST_BROKEN = 3;

/** Clusters up to which it is looked whether the decisions ask for more than is there. */
const MOST_PROPOSED = 250;

/** What matters at a stop now. The kinds are those that it shows. */
export function mattersAt({ evaluation, plan }: SliceHost, stop: AskingStop, kinds: readonly Kind[]): Matters {
  const own = new Set<Kind>(kinds);
  const here = evaluation.findings().filter(({ subjects: [first] }) => first !== undefined && own.has(first.kind));
  const errors = here.filter(({ severity }) => severity === 'error');
  const warnings = here.filter(({ severity }) => severity === 'warning');
  return {
    broken: [...errors, ...warnings].slice(0, MOST_BROKEN),
    errors: errors.length,
    warnings: warnings.length,
    missing: plan.clusters.length === 0 ? [noClusters] : missingAt[stop](plan),
    asks: worthAsking(plan, stop),
  };
}

const noClusters: Missing = { text: 'There are no clusters yet.', action: 'Add clusters', search: { show: 'clusters' }, path: 'demand' }; // prettier-ignore

const steps = (...all: readonly (Missing & { readonly isMissing: boolean })[]): readonly Missing[] =>
  all.filter(({ isMissing }) => isMissing).map(({ isMissing: _, ...step }) => step);

const missingAt: Readonly<Record<AskingStop, (plan: Plan) => readonly Missing[]>> = {
  egress: (plan) => {
    const asked = plan.clusters.length > MOST_PROPOSED ? 0 : proposeEgress(plan).groups.length;
    return steps(
      {
        isMissing: plan.needs.length === 0,
        text: 'Nothing says yet what the clusters must reach.',
        action: 'Enter needs',
        search: { show: 'needs' },
      },
      {
        isMissing: asked > 0,
        text: `The decisions ask for ${asked === 1 ? 'one group of rows' : `${asked} groups of rows`} that are not there.`,
        action: 'See them',
        search: { side: 'propose' },
      },
      {
        isMissing: plan.expectations.length === 0,
        text: 'No question is kept as an expectation: nothing would say that a way was lost.',
        action: 'Keep one',
        search: { show: 'expectations' },
      },
    );
  },
  ingress: (plan) =>
    steps(
      {
        isMissing: plan.workloads.length === 0,
        text: 'No workloads are entered, so no calls are answered yet.',
        action: 'Read manifests',
        search: { side: 'manifests' },
      },
      {
        isMissing: plan.workloads.length > 0 && plan.services.length === 0,
        text: 'Workloads have no services: nothing calls them by a name.',
        action: 'Enter services',
        search: { show: 'services' },
      },
      {
        isMissing: plan.services.length > 0 && plan.ingressRoutes.length === 0,
        text: 'No service is called from outside.',
        action: 'Expose one',
        search: { side: 'expose' },
      },
      {
        isMissing: plan.services.length > 0 && plan.networkPolicies.length === 0,
        text: 'No network policy says who may call whom.',
        action: 'Enter policies',
        search: { show: 'networkPolicies' },
      },
    ),
  dns: (plan) =>
    steps(
      {
        isMissing: plan.zones.length === 0,
        text: 'No zones are entered: names have no answers.',
        action: 'Propose names',
        search: { side: 'propose' },
      },
      {
        isMissing: plan.zones.length > 0 && plan.resolvers.length === 0,
        text: 'No resolver is entered: networks ask that of their provider.',
        action: 'Enter resolvers',
        search: { show: 'resolvers' },
      },
      {
        isMissing: plan.ingressRoutes.length > 0 && plan.certificates.length === 0,
        text: 'No certificates are entered: their renewal is nowhere.',
        action: 'Propose names',
        search: { side: 'propose' },
      },
    ),
  'cross-cluster': (plan) =>
    steps(
      {
        isMissing: plan.connections.length === 0,
        text: 'No clusters are joined yet.',
        action: 'Choose how',
        search: { side: 'choose' },
      },
      {
        isMissing: plan.connections.length > 0 && plan.serviceExports.length === 0,
        text: 'Clusters are joined, and no service is exported.',
        action: 'Export one',
        search: { show: 'serviceExports' },
      },
    ),
};
