import {
  addressBits,
  containsAddress,
  cover,
  firstAddress,
  formatAddress,
  formatPrefix,
  LongestMatch,
  parseAddress,
  parsePrefix,
  prefixAround,
  prefixSize,
  PrefixIndex,
  specialBlocksTouching,
} from '../address/index.js';
import type { Address, Family, Prefix } from '../address/index.js';
import { stretchOf } from '../allocation/index.js';
import { byId, rangeOf } from '../plan/index.js';
import type { Kind, Plan } from '../plan/index.js';
import { expectGood } from '../result.js';
import { perNodePrefix, serviceBands } from '../sizing/index.js';
import { sayNumber } from '../working/index.js';

/** One thing found. */
export interface Hit {
  readonly kind: Kind;
  readonly id: string;
  /** The cluster to open for an allocated range. */
  readonly clusterId: string | undefined;
  readonly label: string;
  readonly detail: string;
}

/** The answer to a quick find. */
export interface LookupAnswer {
  /** One sentence: who holds the address or prefix, or that it is free. */
  readonly summary: string;
  /** For an address or prefix: what holds it, innermost first, then what lies inside. For a name: what carries it. */
  readonly hits: readonly Hit[];
}

interface Row extends Hit {
  readonly prefix: Prefix;
}

const MOST_HITS = 50;

/** Finds who holds an address or prefix, and entities by name. Built once for a plan. */
export class Lookup {
  private readonly rows: readonly Row[];
  private readonly matches: Record<Family, { rows: number[]; match: LongestMatch; index: PrefixIndex }>;

  constructor(private readonly plan: Plan) {
    this.rows = [...poolRows(plan), ...groundRows(plan), ...inUseRows(plan), ...allocationRows(plan), ...runRows(plan)];
    this.matches = { 4: this.family(4), 6: this.family(6) };
  }

  /** Answers an address, a prefix or part of a name. */
  find(query: string): LookupAnswer {
    const text = query.trim();
    const address = parseAddress(text);
    if (address.ok) return this.findAddress(address.value);
    if (text.includes('/')) {
      const parsed = parsePrefix(text);
      if (parsed.ok) return this.findPrefix(parsed.value);
      if (/^[0-9a-fA-F.:]+\//.test(text))
        return { summary: `${parsed.problem.message} ${parsed.problem.mend}`, hits: [] };
    }
    return this.findName(text);
  }

  private family(family: Family) {
    const rows = this.rows.flatMap((row, at) => (row.prefix.family === family ? [at] : []));
    const prefixes = rows.map((at) => (this.rows[at] as Row).prefix);
    return {
      rows,
      match: new LongestMatch(family, prefixes),
      index: new PrefixIndex(family, prefixes, (i) => rows[i] as number),
    };
  }

  private findAddress(address: Address): LookupAnswer {
    const { rows, match } = this.matches[address.family];
    const holders: Row[] = [];
    for (let at = match.find(address); at >= 0; at = match.outerRow[at] ?? -1)
      holders.push(this.rows[rows[at] as number] as Row);
    return this.answer(
      formatAddress(address),
      prefixAround(address.family, address.value, addressBits(address.family)),
      holders,
      [],
      address,
    );
  }

  private findPrefix(value: Prefix): LookupAnswer {
    const { index } = this.matches[value.family];
    const around: Row[] = [];
    const inside: Row[] = [];
    index.forEachAround(value, (at) => around.unshift(this.rows[at] as Row));
    index.forEachInside(value, (at) => inside.length < MOST_HITS && inside.push(this.rows[at] as Row));
    return this.answer(formatPrefix(value), value, around, inside, undefined);
  }

  private answer(
    text: string,
    value: Prefix,
    around: readonly Row[],
    inside: readonly Row[],
    address: Address | undefined,
  ): LookupAnswer {
    // A pool or a block is space to take from; what holds an address is something that was taken from it.
    const isSpace = (row: Row) => row.kind === 'pools' || row.kind === 'blocks';
    const holder = around.find((row) => !isSpace(row));
    const block = around.find((row) => row.kind === 'blocks');
    const pool = around.find((row) => row.kind === 'pools');
    const special = specialBlocksTouching(value).map((block) => `${block.name} space (${block.source})`);
    const taken = inside.filter((row) => !isSpace(row)).length;
    const inPool = pool === undefined ? 'in no pool' : `in pool ${pool.label}`;
    const where = block === undefined ? inPool : `${inPool}, in the ${block.label}`;
    const state =
      holder !== undefined
        ? `held by the ${holder.label}`
        : taken > 0
          ? `partly taken (${taken} ranges inside), ${where}`
          : `free, ${where}`;
    const notes = special.length > 0 ? `; ${special.join(', ')}` : '';
    const summary = `${text} is ${state}${notes}.`;
    return { summary, hits: [...around, ...inside].slice(0, MOST_HITS).map((row) => this.asHit(row, address)) };
  }

  private asHit(row: Row, address: Address | undefined): Hit {
    const { kind, id, clusterId, label } = row;
    const place = address === undefined ? undefined : this.placeInRange(row, address);
    return { kind, id, clusterId, label, detail: place === undefined ? row.detail : `${row.detail}; ${place}` };
  }

  private placeInRange(row: Row, address: Address): string | undefined {
    const allocation = row.kind === 'allocations' ? byId(this.plan.allocations, row.id) : undefined;
    const cluster = allocation === undefined ? undefined : byId(this.plan.clusters, allocation.clusterId);
    if (allocation === undefined || cluster === undefined) return undefined;
    if (allocation.purpose === 'service') return placeInServiceRange(row.prefix, address);
    if (allocation.purpose === 'pod' && cluster.podMode !== 'native') {
      const length = perNodePrefix(address.family, cluster.podsPerNode, cluster.perNodeLength).value;
      if (length < row.prefix.length) return undefined;
      const slice = prefixAround(address.family, address.value, length);
      return `pods of the node with prefix number ${sayNumber((slice.base - row.prefix.base) / prefixSize(slice))}, ${formatPrefix(slice)}`;
    }
    const profile = byId(this.plan.profiles, byId(this.plan.sites, cluster.siteId)?.profileId ?? '');
    if (allocation.purpose !== 'node' || profile === undefined || address.family === 6) return undefined;
    const offset = address.value - row.prefix.base;
    const fromEnd = prefixSize(row.prefix) - 1n - offset;
    const isReserved = offset < BigInt(profile.reservedFirst) || fromEnd < BigInt(profile.reservedLast);
    return isReserved ? `reserved by ${profile.name}` : undefined;
  }

  private findName(text: string): LookupAnswer {
    const sought = text.toLowerCase();
    const hits: Hit[] = [];
    const consider = (kind: Kind, id: string, label: string, detail: string, clusterId?: string) => {
      if (hits.length < MOST_HITS && label.toLowerCase().includes(sought))
        hits.push({ kind, id, clusterId, label, detail });
    };
    const { plan } = this;
    for (const { id, name } of plan.clusters) consider('clusters', id, name, 'cluster', id);
    for (const { id, name } of plan.sites) consider('sites', id, name, 'site');
    for (const { id, name } of plan.networks) consider('networks', id, name, 'network');
    for (const { id, name, prefix } of plan.pools) consider('pools', id, name, `pool ${prefix}`);
    for (const { id, name, kind } of plan.links) consider('links', id, name, kind === 'hub' ? 'transit hub' : kind);
    for (const { id, name, prefix } of plan.subnets) consider('subnets', id, name, `subnet ${prefix}`);
    for (const { id, name, vcpus, memoryGib } of plan.shapes)
      consider('shapes', id, name, `machine shape, ${vcpus} vCPU, ${memoryGib} GiB`);
    for (const { id, name, first, count, clusterId } of plan.runs)
      consider('runs', id, name, `${count} addresses from ${first}`, clusterId);
    for (const { id, owner, prefix } of plan.inUse) consider('inUse', id, owner, `uses ${prefix}`);
    return { summary: hits.length === 0 ? `Nothing is called "${text}".` : `${hits.length} found.`, hits };
  }
}

function placeInServiceRange(range: Prefix, address: Address): string | undefined {
  const bands = serviceBands(range);
  if (bands === undefined) return undefined;
  const text = formatAddress(address);
  if (text === bands.apiServer) return 'the API server’s own service';
  if (text === bands.clusterDns) return 'cluster DNS by custom';
  const last = parseAddress(bands.staticLast);
  if (address.value === firstAddress(range).value || !containsAddress(range, address) || !last.ok)
    return 'not used for services';
  return address.value <= last.value.value ? 'in the static band' : 'in the automatic band';
}

function poolRows(plan: Plan): Row[] {
  return plan.pools.map((pool) => ({
    kind: 'pools',
    id: pool.id,
    clusterId: undefined,
    label: pool.name,
    detail: `pool ${pool.prefix}`,
    prefix: rangeOf(pool),
  }));
}

function groundRows(plan: Plan): Row[] {
  const network = (id: string) => byId(plan.networks, id)?.name ?? '';
  return [
    ...plan.blocks.map((block): Row => ({
      kind: 'blocks',
      id: block.id,
      clusterId: undefined,
      label: `address block of ${network(block.networkId)}`,
      detail: block.prefix,
      prefix: rangeOf(block),
    })),
    ...plan.subnets.map((subnet): Row => ({
      kind: 'subnets',
      id: subnet.id,
      clusterId: undefined,
      label: `subnet ${subnet.name}`,
      detail: `${subnet.prefix} for ${subnet.delegatedTo === '' ? subnet.purpose : subnet.delegatedTo} in ${network(subnet.networkId)}`,
      prefix: rangeOf(subnet),
    })),
  ];
}

/** A run as the prefixes that cover it, so that each of its addresses is found. */
function runRows(plan: Plan): Row[] {
  return plan.runs.flatMap((run) => {
    const { family } = expectGood(parseAddress(run.first));
    const { first, last } = stretchOf(run);
    return cover({ family, value: first }, { family, value: last }).map((prefix): Row => ({
      kind: 'runs',
      id: run.id,
      clusterId: run.clusterId,
      label: `run ${run.name}`,
      detail: `${run.count} addresses from ${run.first}`,
      prefix,
    }));
  });
}

function inUseRows(plan: Plan): Row[] {
  return plan.inUse.map((range) => ({
    kind: 'inUse',
    id: range.id,
    clusterId: undefined,
    label: `range of ${range.owner}`,
    detail: `${range.prefix} in use in ${byId(plan.networks, range.networkId ?? '')?.name ?? 'no network of this plan'}`,
    prefix: rangeOf(range),
  }));
}

function allocationRows(plan: Plan): Row[] {
  return plan.allocations.map((allocation) => ({
    kind: 'allocations',
    id: allocation.id,
    clusterId: allocation.clusterId,
    label: `${allocation.purpose} range of ${byId(plan.clusters, allocation.clusterId)?.name ?? ''}`,
    detail: allocation.zone === '' ? allocation.prefix : `${allocation.prefix} in zone ${allocation.zone}`,
    prefix: rangeOf(allocation),
  }));
}
