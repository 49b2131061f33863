import {
  addressAt,
  addressValue,
  contains,
  containsAddress,
  formatAddress,
  formatPrefix,
  overlaps,
  parseAddress,
  parsePrefix,
  prefixAround,
} from '../address/index.js';
import type { Address, Prefix } from '../address/index.js';
import { applyOperations, byId, kindNames, kindRules, kinds, rangeOf, rulesOf, setOperation } from '../plan/index.js';
import type { Entity, FieldRule, Kind, Operation, Plan } from '../plan/index.js';
import { bad, good } from '../result.js';
import type { Result } from '../result.js';
import { isInternalRange } from '../verdicts/index.js';
import { freePrivateSpace } from './privateSpace.js';
import { PoolSpace } from './poolSpace.js';

/** What moves: an address block with all in it, or one subnet. */
export type MovingKind = 'blocks' | 'subnets';

/** A block or subnet moved to other addresses with all that is kept in it, as one change. */
export interface GroundMove {
  readonly from: string;
  readonly to: string;
  readonly operations: readonly Operation[];
  /** What still names the old addresses, or a wider prefix that holds them and not the new ones; in words. */
  readonly keeps: readonly string[];
}

/** Kinds whose addresses are agreed with others and do not follow. */
const agreed: ReadonlySet<Kind> = new Set<Kind>(['pools', 'inUse', 'templates', 'rebuilds']);

/**
 * Moves an address block or a subnet, and everything of its network that has an address in it: each keeps its place in it.
 * Where no other network uses the same addresses, rules, routes, sets, records and needs that name them follow; otherwise
 * they are told. Without a target the first free place is taken. Refused when a cluster in it is built or a range in it is
 * pinned or belongs to others.
 */
export function moveGround(plan: Plan, kind: MovingKind, id: string, target = ''): Result<GroundMove> {
  const row = byId<Plan[MovingKind][number]>(plan[kind], id);
  if (row === undefined) return bad('move.gone', 'That is not in the plan.');
  const from = rangeOf(row);
  const stuck = whyStuck(plan, row.networkId, from);
  if (stuck !== undefined) return stuck;
  const to = target.trim() === '' ? freePlace(plan, kind, row, from) : readTarget(target, from);
  if (!to.ok) return to;
  const shift = new Shift(from, to.value);
  const isAlone = !isUsedElsewhere(plan, row.networkId, from);
  const operations: Operation[] = [];
  const keeps: string[] = [];
  for (const each of kinds) {
    if (agreed.has(each)) continue;
    for (const entity of plan[each] as readonly Entity[]) {
      const role = roleOf(plan, row.networkId, each, entity);
      if (role === 'apart') continue;
      const { fields, wider } = shift.fieldsOf(each, entity);
      if (Object.keys(fields).length === 0 && wider.length === 0) continue;
      const label = `${kindNames[each]} ${kindRules(each).label(entity, plan)}`;
      if (role === 'own' || isAlone) {
        if (Object.keys(fields).length > 0) operations.push(setOperation(each, entity.id, fields as never));
      } else if (Object.keys(fields).length > 0)
        keeps.push(`${label} names addresses of ${formatPrefix(from)}, which another network uses too.`);
      for (const prefix of wider)
        keeps.push(`${label} names ${prefix}, which holds the old addresses and not the new ones.`);
    }
  }
  const applied = applyOperations(plan, operations);
  if (!applied.ok) {
    const [first] = applied.problems;
    return bad('move.refused', first?.message ?? 'It cannot be moved there.', first?.fix ?? '');
  }
  return good({ from: formatPrefix(from), to: formatPrefix(to.value), operations, keeps });
}

/** Kinds whose addresses are their own; all others name those of somebody. */
const holders: ReadonlySet<Kind> = new Set<Kind>([
  'blocks',
  'subnets',
  'allocations',
  'reservations',
  'endpoints',
  'bastions',
  'balancers',
]);

/** Whether an entity is of the moving network, names addresses of whichever, or has addresses of its own that stay apart. */
function roleOf(plan: Plan, networkId: string, kind: Kind, entity: Entity): 'own' | 'names' | 'apart' {
  if (kind === 'networks') return entity.id === networkId ? 'own' : 'names';
  const of = entity as { networkId?: string; clusterId?: string; subnetId?: string };
  const cluster = byId(plan.clusters, of.clusterId ?? '');
  const range = kind === 'allocations' ? byId(plan.allocations, entity.id) : undefined;
  // Inside its cluster a range means other places.
  if (cluster !== undefined && range !== undefined && isInternalRange(cluster, range.purpose)) return 'apart';
  const found = of.networkId ?? cluster?.networkId ?? byId(plan.subnets, of.subnetId ?? '')?.networkId;
  if (found === networkId) return 'own';
  return holders.has(kind) ? 'apart' : 'names';
}

/** Why nothing here may move: what is built, pinned or belongs to others; undefined when all may. */
function whyStuck(plan: Plan, networkId: string, from: Prefix): Result<never> | undefined {
  for (const range of plan.allocations) {
    const cluster = byId(plan.clusters, range.clusterId);
    if (cluster?.networkId !== networkId || isInternalRange(cluster, range.purpose)) continue;
    const own = rangeOf(range);
    if (!overlaps(own, from)) continue;
    const what = `the ${range.purpose} range ${range.prefix} of ${cluster.name}`;
    if (!contains(from, own))
      return bad('move.wider', `${what} reaches beyond it.`, 'Move the address block around both.');
    if (range.isPinned) return bad('move.pinned', `${what} is pinned.`, 'Clear Pinned first if it may move.');
    if (cluster.isBuilt)
      return bad(
        'move.built',
        `${what} is in it, and the cluster is built.`,
        'Plan its rebuild first, or leave the addresses where they are.',
      );
  }
  const others = plan.inUse.find((range) => range.networkId === networkId && overlaps(rangeOf(range), from));
  if (others !== undefined)
    return bad('move.others', `${others.prefix} of ${others.owner} is in it.`, 'Have its owner renumber it.');
  return undefined;
}

/** Whether another network has anything in these addresses, or somebody of whom no network is known. */
function isUsedElsewhere(plan: Plan, own: string, from: Prefix): boolean {
  const isThere = (row: { readonly networkId: string | null; readonly prefix: string }) =>
    row.networkId !== own && overlaps(rangeOf(row), from);
  return (
    [...plan.blocks, ...plan.subnets, ...plan.inUse].some(isThere) ||
    plan.allocations.some((range) => {
      const cluster = byId(plan.clusters, range.clusterId);
      return cluster !== undefined && isThere({ networkId: cluster.networkId, prefix: range.prefix });
    })
  );
}

function readTarget(text: string, from: Prefix): Result<Prefix> {
  const parsed = parsePrefix(text);
  if (!parsed.ok) return parsed;
  const { family, length } = parsed.value;
  if (family !== from.family || length !== from.length)
    return bad(
      'move.size',
      `${formatPrefix(parsed.value)} is not of its size.`,
      `Write ${from.family === 4 ? 'an IPv4' : 'an IPv6'} prefix with /${from.length}: each address keeps its place in it.`,
    );
  if (overlaps(parsed.value, from)) return bad('move.same', 'It is there already.', 'Write another prefix.');
  return parsed;
}

/** The first place that nothing in the plan touches: for a subnet in the blocks of its network, then in a pool, then in private space. */
function freePlace(plan: Plan, kind: MovingKind, row: Plan[MovingKind][number], from: Prefix): Result<Prefix> {
  const { networkId } = row;
  const siteId =
    'siteId' in row ? row.siteId : (plan.subnets.find((subnet) => subnet.networkId === networkId)?.siteId ?? '');
  const { family, length } = from;
  const demand = {
    clusterId: '',
    siteId,
    networkId,
    purpose: 'node',
    family,
    length,
    roomLength: length,
    isInternal: false,
  } as const;
  const space = new PoolSpace(plan);
  const found =
    (kind === 'subnets' ? space.place({ ...demand, isSubnet: true }) : undefined) ??
    space.place({ ...demand, networkId: '', isSubnet: false });
  const prefix = found?.prefix ?? freePrivateSpace(plan, family, length);
  return prefix === undefined
    ? bad('move.full', `No /${length} is free in a pool or in private space.`, 'Write where it is to go.')
    : good(prefix);
}

/** Addresses of one prefix in another of the same size: each keeps its place. */
class Shift {
  private readonly by: bigint;

  constructor(
    private readonly from: Prefix,
    private readonly to: Prefix,
  ) {
    this.by = addressValue(to) - addressValue(from);
  }

  /** The fields of an entity that name addresses here, as they are afterwards; and the wider prefixes that it names. */
  fieldsOf(kind: Kind, entity: Entity): { fields: Record<string, unknown>; wider: readonly string[] } {
    const fields: Record<string, unknown> = {};
    const wider: string[] = [];
    for (const [field, rule] of Object.entries<FieldRule>(rulesOf(kind))) {
      const value = (entity as unknown as Readonly<Record<string, unknown>>)[field];
      const each = this.moverOf(rule);
      if (each === undefined || value === null || value === undefined) continue;
      const old = (Array.isArray(value) ? value : [value]) as readonly string[];
      const now = old.map(each);
      if (now.some((text, at) => text !== old[at])) fields[field] = Array.isArray(value) ? now : now[0];
      if (rule.type === 'prefixes') wider.push(...old.filter((text) => this.isWider(text)));
    }
    return { fields, wider };
  }

  private moverOf(rule: FieldRule): ((text: string) => string) | undefined {
    switch (rule.type) {
      case 'prefix':
      case 'prefixes':
      case 'address':
      case 'addresses':
        return (text) => this.moved(text);
      case 'text':
        // Names and notes are people's own words.
        return rule.compare !== 'name' && rule.label !== 'Note' ? (text) => this.movedIn(text) : undefined;
      case 'texts':
        return (text) => this.movedIn(text);
      default:
        return undefined;
    }
  }

  /** An address or prefix in its new place; as it is when it lies elsewhere. */
  private moved(text: string): string {
    const prefix = text.includes('/') ? parsePrefix(text) : undefined;
    if (prefix?.ok === true)
      return contains(this.from, prefix.value)
        ? formatPrefix(prefixAround(this.at(prefix.value), prefix.value.length))
        : text;
    const address = prefix === undefined ? parseAddress(text) : undefined;
    if (address?.ok !== true || address.value.family !== this.from.family) return text;
    return containsAddress(this.from, address.value) ? formatAddress(this.at(address.value)) : text;
  }

  /** The same for each IPv4 address or prefix in a text: the data of a record, a question, a translation. */
  private movedIn(text: string): string {
    return text.replace(/(?<![\d.])\d{1,3}(?:\.\d{1,3}){3}(?:\/\d{1,2})?(?![\d.])/g, (found) => this.moved(found));
  }

  private at(address: Address): Address {
    return addressAt(address.family, addressValue(address) + this.by);
  }

  /** Whether a prefix holds all that is old and not all that is new. */
  private isWider(text: string): boolean {
    const prefix = parsePrefix(text);
    return (
      prefix.ok &&
      prefix.value.length > 0 &&
      prefix.value.length < this.from.length &&
      contains(prefix.value, this.from) &&
      !contains(prefix.value, this.to)
    );
  }
}
