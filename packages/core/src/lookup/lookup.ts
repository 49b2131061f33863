import {
  addressBits,
  addressValue,
  compareAddresses,
  containsAddress,
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
import { byId, kindRules, kinds } from '../plan/index.js';
import type { Entity, Kind, Plan } from '../plan/index.js';
import { perNodePrefix, serviceBands } from '../sizing/index.js';
import { formatNumber } from '../working/index.js';

/** One thing found. */
export interface Hit {
  readonly kind: Kind;
  readonly id: string;
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
  /** A pool or a block is space to take from; what holds an address is something that was taken from it. */
  readonly isSpace: boolean;
}

const MAX_HITS = 50;

/** Finds who holds an address or prefix, and entities by name. Built once for a plan. */
export class Lookup {
  private readonly rows: readonly Row[];
  private readonly matches: Record<Family, { rows: number[]; match: LongestMatch; index: PrefixIndex }>;

  constructor(private readonly plan: Plan) {
    this.rows = kinds.flatMap((kind) => rowsOf(plan, kind));
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
      if (/^[0-9a-fA-F.:]+\/\S*$/.test(text))
        return { summary: `${parsed.problem.message} ${parsed.problem.fix}`, hits: [] };
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
      prefixAround(address, addressBits(address.family)),
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
    index.forEachInside(value, (at) => inside.length < MAX_HITS && inside.push(this.rows[at] as Row));
    return this.answer(formatPrefix(value), value, around, inside, undefined);
  }

  private answer(
    text: string,
    value: Prefix,
    around: readonly Row[],
    inside: readonly Row[],
    address: Address | undefined,
  ): LookupAnswer {
    const holder = around.find((row) => !row.isSpace);
    const block = around.find((row) => row.kind === 'blocks');
    const pool = around.find((row) => row.kind === 'pools');
    const special = specialBlocksTouching(value).map((block) => `${block.name} space (${block.source})`);
    const taken = inside.filter((row) => !row.isSpace).length;
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
    return { summary, hits: [...around, ...inside].slice(0, MAX_HITS).map((row) => this.asHit(row, address)) };
  }

  private asHit(row: Row, address: Address | undefined): Hit {
    const { kind, id, label } = row;
    const detail = `${formatPrefix(row.prefix)} ${row.detail}`.trim();
    const place = address === undefined ? undefined : this.placeInRange(row, address);
    return { kind, id, label, detail: place === undefined ? detail : `${detail}; ${place}` };
  }

  private placeInRange(row: Row, address: Address): string | undefined {
    const allocation = row.kind === 'allocations' ? byId(this.plan.allocations, row.id) : undefined;
    const cluster = allocation === undefined ? undefined : byId(this.plan.clusters, allocation.clusterId);
    if (allocation === undefined || cluster === undefined) return undefined;
    if (allocation.purpose === 'service') return placeInServiceRange(row.prefix, address);
    if (allocation.purpose === 'pod' && cluster.podMode !== 'native') {
      const length = perNodePrefix(address.family, cluster.podsPerNode, cluster.perNodeLength).value;
      if (length < row.prefix.length) return undefined;
      const slice = prefixAround(address, length);
      return `pods of the node with prefix number ${formatNumber((addressValue(slice) - addressValue(row.prefix)) / prefixSize(slice))}, ${formatPrefix(slice)}`;
    }
    const profile = byId(this.plan.profiles, byId(this.plan.sites, cluster.siteId)?.profileId ?? '');
    if (allocation.purpose !== 'node' || profile === undefined || address.family === 6) return undefined;
    const offset = addressValue(address) - addressValue(row.prefix);
    const fromEnd = prefixSize(row.prefix) - 1n - offset;
    const isReserved = offset < BigInt(profile.reservedFirst) || fromEnd < BigInt(profile.reservedLast);
    return isReserved ? `reserved by ${profile.name}` : undefined;
  }

  /** What carries a name comes before what only mentions it, clusters before all. */
  private findName(text: string): LookupAnswer {
    const sought = text.toLowerCase();
    const named: Hit[] = [];
    const mentioned: Hit[] = [];
    for (const kind of namedFirst) {
      const { label } = kindRules(kind);
      for (const entity of this.plan[kind] as readonly Entity[]) {
        if (named.length === MAX_HITS) break;
        const carries = 'name' in entity && entity.name.toLowerCase().includes(sought);
        if (!carries && (mentioned.length === MAX_HITS || !label(entity, this.plan).toLowerCase().includes(sought)))
          continue;
        (carries ? named : mentioned).push(hitFor(this.plan, kind, entity));
      }
    }
    const hits = [...named, ...mentioned].slice(0, MAX_HITS);
    return { summary: hits.length === 0 ? `Nothing is called "${text}".` : `${hits.length} found.`, hits };
  }
}

const namedFirst: readonly Kind[] = ['clusters', ...kinds.filter((kind) => kind !== 'clusters')];

function placeInServiceRange(range: Prefix, address: Address): string | undefined {
  const bands = serviceBands(range);
  if (bands === undefined) return undefined;
  const text = formatAddress(address);
  if (text === bands.apiServer) return 'the API server’s own service';
  if (text === bands.clusterDns) return 'cluster DNS by custom';
  const last = parseAddress(bands.staticLast);
  if (compareAddresses(address, range) === 0 || !containsAddress(range, address) || !last.ok)
    return 'not used for services';
  return compareAddresses(address, last.value) <= 0 ? 'in the static band' : 'in the automatic band';
}

/** Where the entities of a kind that hold addresses do so; none for those that hold none. */
function rowsOf(plan: Plan, kind: Kind): Row[] {
  const { holds } = kindRules(kind);
  if (holds === undefined) return [];
  return (plan[kind] as readonly Entity[]).flatMap((entity) => {
    const hit = hitFor(plan, kind, entity);
    const label = holds.called(entity, plan);
    return holds.prefixes(entity).map((prefix) => ({ ...hit, label, isSpace: holds.isSpace === true, prefix }));
  });
}

function hitFor(plan: Plan, kind: Kind, entity: Entity): Hit {
  const { label, about } = kindRules(kind);
  return { kind, id: entity.id, label: label(entity, plan), detail: about(entity, plan) };
}
