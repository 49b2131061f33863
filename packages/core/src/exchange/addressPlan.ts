import { addressValue, containsAddress, familyName, formatPrefix, prefixSize } from '../address/index.js';
import { poolFigures } from '../allocation/index.js';
import type { Evaluation } from '../evaluation/index.js';
import { inWords } from '../findings/index.js';
import { byId, rangeOf } from '../plan/index.js';
import type { Pool, Purpose } from '../plan/index.js';
import type { ClusterResult } from '../sizing/index.js';
import { worstVerdict } from '../verdicts/index.js';
import type { VerdictState } from '../verdicts/index.js';
import { formatSize } from '../working/index.js';

/** A part of a pool's bar: where it starts and how wide it is, as shares of the pool, 0 to 1. */
export interface BarPart {
  readonly start: number;
  readonly width: number;
  readonly what: Purpose | 'elsewhere';
}

/** One pool as it is printed. */
export interface PrintedPool {
  readonly name: string;
  readonly prefix: string;
  readonly purposes: string;
  readonly site: string;
  readonly size: string;
  readonly free: string;
  readonly largestFree: string;
  readonly takenPercent: number;
  readonly routes: number;
  readonly bar: readonly BarPart[];
}

/** One range as it is printed. */
export interface PrintedRange {
  readonly purpose: Purpose;
  readonly zone: string;
  readonly family: string;
  readonly prefix: string;
  readonly addresses: string;
  readonly needed: string;
  readonly verdict: VerdictState | 'missing' | 'too small';
}

/** One cluster with its ranges and its addresses in a row. */
export interface PrintedCluster {
  readonly name: string;
  readonly network: string;
  readonly podMode: string;
  readonly nodes: string;
  readonly isBuilt: boolean;
  readonly ranges: readonly PrintedRange[];
  readonly reservations: readonly { readonly name: string; readonly first: string; readonly count: number }[];
}

/** One network with what it is made of and joined by. */
export interface PrintedNetwork {
  readonly name: string;
  readonly note: string;
  readonly blocks: readonly string[];
  readonly subnets: readonly {
    readonly name: string;
    readonly prefix: string;
    readonly use: string;
    readonly place: string;
    readonly internetEgress: string;
    readonly routeTable: string;
  }[];
  readonly links: readonly string[];
}

/** The address plan as a document: what those who build and those who sign off read on paper. */
export interface AddressPlan {
  readonly title: string;
  readonly note: string;
  readonly summary: readonly { readonly label: string; readonly value: string }[];
  readonly pools: readonly PrintedPool[];
  readonly sites: readonly {
    readonly name: string;
    readonly profile: string;
    readonly clusters: readonly PrintedCluster[];
  }[];
  readonly networks: readonly PrintedNetwork[];
  readonly inUse: readonly { readonly prefix: string; readonly owner: string; readonly network: string }[];
  /** Errors and warnings. */
  readonly findings: readonly { readonly severity: string; readonly title: string; readonly detail: string }[];
}

/** Narrower parts of a bar are left out: they would be thinner than a printed line. */
const NARROWEST = 1 / 1000;

/** Gathers the address plan from an evaluation. */
export function addressPlan(evaluation: Evaluation): AddressPlan {
  const { plan } = evaluation;
  const findings = evaluation.findings().filter(({ severity }) => severity !== 'note');
  const errors = findings.filter(({ severity }) => severity === 'error').length;
  const figures = new Map(poolFigures(plan).map((row) => [row.pool, row]));
  return {
    title: plan.settings.name,
    note: plan.settings.note,
    summary: [
      { label: 'Horizon', value: `${plan.settings.horizonMonths} months` },
      { label: 'Clusters', value: String(plan.clusters.length) },
      { label: 'Ranges allocated', value: String(plan.allocations.length) },
      { label: 'Ranges in use elsewhere', value: String(plan.inUse.length) },
      { label: 'Errors', value: String(errors) },
      { label: 'Warnings', value: String(findings.length - errors) },
    ],
    pools: byName(plan.pools).map((pool) => printedPool(evaluation, pool, figures)),
    sites: byName(plan.sites)
      .map((site) => ({
        name: site.name,
        profile: byId(plan.profiles, site.profileId)?.name ?? '',
        clusters: evaluation.clusters
          .filter(({ cluster }) => cluster.siteId === site.id)
          .map((result) => printedCluster(evaluation, result)),
      }))
      .filter(({ clusters }) => clusters.length > 0),
    networks: byName(plan.networks).map(({ id, name, note }) => printedNetwork(evaluation, id, name, note)),
    inUse: plan.inUse.map(({ prefix, owner, networkId }) => ({
      prefix,
      owner,
      network: byId(plan.networks, networkId ?? '')?.name ?? 'none',
    })),
    findings: findings.map((each) => {
      const { severity, title, detail } = inWords(plan, each);
      return { severity, title, detail };
    }),
  };
}

function printedPool(
  { plan }: Evaluation,
  pool: Pool,
  figures: ReadonlyMap<Pool, ReturnType<typeof poolFigures>[number]>,
): PrintedPool {
  const whole = rangeOf(pool);
  const row = figures.get(pool);
  const part = (range: { readonly prefix: string }, what: BarPart['what']): BarPart[] => {
    const taken = rangeOf(range);
    if (!containsAddress(whole, taken)) return [];
    const share = (value: bigint) => Number((value * 1_000_000n) / prefixSize(whole)) / 1_000_000;
    const width = Math.min(1, share(prefixSize(taken)));
    return width < NARROWEST ? [] : [{ start: share(addressValue(taken) - addressValue(whole)), width, what }];
  };
  return {
    name: pool.name,
    prefix: pool.prefix,
    purposes: pool.purposes.join(', '),
    site: byId(plan.sites, pool.siteId ?? '')?.name ?? 'any',
    size: formatSize(prefixSize(whole)),
    free: formatSize(row?.free ?? 0n),
    largestFree: row?.largestFree === undefined ? 'none' : formatPrefix(row.largestFree),
    takenPercent: Math.round((row?.taken ?? 0) * 1000) / 10,
    routes: row?.routes.value ?? 0,
    bar: [
      ...plan.inUse.flatMap((range) => part(range, 'elsewhere')),
      ...plan.allocations.flatMap((range) => part(range, range.purpose)),
    ],
  };
}

function printedCluster(evaluation: Evaluation, result: ClusterResult): PrintedCluster {
  const { cluster, network, allocations, figures, sizing } = result;
  const held = allocations.map((allocation): PrintedRange => {
    const range = rangeOf(allocation);
    const filled = figures.needs.find((each) => each.ranges.includes(allocation));
    const verdict = worstVerdict(evaluation.verdictsOf(allocation.id));
    return {
      purpose: allocation.purpose,
      zone: allocation.zone,
      family: familyName(range.family),
      prefix: allocation.prefix,
      addresses: formatSize(prefixSize(range)),
      needed: filled === undefined ? 'none' : `/${filled.need.length.value}`,
      verdict: verdict === 'clear' && filled?.isLargeEnough === false ? 'too small' : verdict,
    };
  });
  const missing = figures.needs
    .filter(({ ranges }) => ranges.length === 0)
    .map(({ need }): PrintedRange => ({
      purpose: need.purpose,
      zone: need.zone,
      family: familyName(need.family),
      prefix: '',
      addresses: '',
      needed: `/${need.length.value}`,
      verdict: 'missing',
    }));
  return {
    name: cluster.name,
    network: network.name,
    podMode: cluster.podMode,
    nodes: `${sizing.growth.nodesNow} now, ${sizing.growth.nodesHorizon} at the horizon`,
    isBuilt: cluster.isBuilt,
    ranges: [...held, ...missing],
    reservations: evaluation.plan.reservations
      .filter(({ clusterId }) => clusterId === cluster.id)
      .map(({ name, first, count }) => ({ name, first, count })),
  };
}

function printedNetwork({ plan }: Evaluation, id: string, name: string, note: string): PrintedNetwork {
  return {
    name,
    note,
    blocks: plan.blocks.filter(({ networkId }) => networkId === id).map(({ prefix }) => prefix),
    subnets: plan.subnets
      .filter(({ networkId }) => networkId === id)
      .map((subnet) => ({
        name: subnet.name,
        prefix: subnet.prefix,
        use: `${subnet.isPublic ? 'public' : 'private'}, ${subnet.delegatedTo === '' ? subnet.purpose : subnet.delegatedTo}`,
        place: [byId(plan.sites, subnet.siteId)?.name ?? '', subnet.zone].filter((part) => part !== '').join(', '),
        internetEgress: subnet.internetEgress,
        routeTable: byId(plan.routeTables, subnet.routeTableId ?? '')?.name ?? '',
      })),
    links: plan.links
      .filter(({ networkIds }) => networkIds.includes(id))
      .map((link) => {
        const others = link.networkIds.filter((other) => other !== id);
        const names = others.map((other) => byId(plan.networks, other)?.name ?? '').join(', ');
        return `${link.kind} ${link.name}${link.isPlanned ? ' (planned)' : ''}: ${names}`;
      }),
  };
}

function byName<E extends { readonly name: string }>(items: readonly E[]): E[] {
  return [...items].sort((a, b) => (a.name < b.name ? -1 : 1));
}
