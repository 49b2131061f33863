import { parseAddress } from '../address/index.js';
import { isPublicAddress } from '../forwarding/index.js';
import { isWithin, parentOf, recordTypes } from '../zones/index.js';
import type { Rr } from '../zones/index.js';
import { naming, rrOf, takers as takersOf } from '../naming/index.js';
import type { NameState, Takers } from '../naming/index.js';
import { byId, grouped, hostPrefix } from '../plan/index.js';
import type { DnsRecord, Zone } from '../plan/index.js';
import { bySubject, once, oncePer, ownersIn, together, unless } from '../section/index.js';
import type { FactCode, FactOf } from '../english/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** Aliases one after the other from which on resolvers begin to give up: common practice. */
const LONG_CHAIN = 8;

/** Records that are wrong in themselves, or lead to nobody. */
export const recordFindings = bySubject({
  name: 'findings by record',
  reads: [],
  needs: { naming, takers: takersOf },
  subjects: (_, needed) => needed.naming.parts.records,
  dependsOn: (record, _, needed) => {
    const { parts, compiled } = needed.naming;
    const zone = byId(parts.zones, record.zoneId);
    const isInPlan = record.target === 'in this plan';
    const isOfAddress = record.type === 'A' || record.type === 'AAAA';
    return [
      record,
      zone,
      ...(isInPlan ? [needed.takers, parts.profiles] : []),
      // An alias stands beside other records, and leads on to others.
      ...(isOfAddress || !(isInPlan || record.type === 'CNAME') ? [] : [parts.zones, compiled]),
    ];
  },
  near: ({ needed: was }, { needed: is }) =>
    together(
      unless([was.naming.parts.zones, is.naming.parts.zones], [was.naming.parts.profiles, is.naming.parts.profiles]),
      // Records that lead into the plan follow who takes calls there, aliases follow all others.
      was.takers === is.takers && was.naming.compiled === is.naming.compiled
        ? new Set<string>()
        : leadingOn(is.naming.parts.records),
      ownersIn(was.naming.parts, is.naming.parts, ['records'], 'id'),
    ),
  look: (record, _, needed) => ofRecord(needed.naming, record, needed.takers),
});

const leadingOn = once(
  (records: readonly DnsRecord[]): ReadonlySet<string> =>
    new Set(records.flatMap(({ id, type, target }) => (target === 'in this plan' || type === 'CNAME' ? [id] : []))),
);

function ofRecord(state: NameState, record: DnsRecord, takers: Takers): Finding[] {
  const zone = byId(state.parts.zones, record.zoneId);
  const rr = zone === undefined ? undefined : rrOf(record, zone);
  if (zone === undefined || rr === undefined) return [];
  const subjects = [
    { kind: 'records', id: record.id },
    { kind: 'zones', id: zone.id },
  ] as const;
  const tell: Tell = (code, severity, fact) =>
    finding(code, severity, subjects, { zone: zone.name, name: rr.name, ...fact } as FactOf<typeof code>, {
      part: record.id,
    });
  const found: Finding[] = [];
  const tree = state.treeOf(zone);
  if (rr.type === 'CNAME') {
    if (rr.name === zone.apex) found.push(tell('record.alias-apex', 'error', {}));
    else if (
      recordTypes.some((type) => type !== 'CNAME' && tree.setAt(rr.name, type).length > 0) ||
      tree.setAt(rr.name, 'CNAME').length > 1
    )
      found.push(tell('record.alias-beside', 'error', {}));
    else found.push(...chain(state, zone, rr, tell));
  }
  const isMoving = rr.type === 'A' || rr.type === 'AAAA' || rr.type === 'CNAME';
  const isServer = zone.nameServers.some((each) => each.toLowerCase() === rr.name);
  if (isMoving && !isServer && zone.cutOverTarget !== null && rr.ttl > zone.cutOverTarget)
    found.push(tell('record.ttl', 'warning', { ttl: rr.ttl, aim: zone.cutOverTarget }));
  if (record.target === 'in this plan') found.push(...aimless(state, zone, rr, takers, tell));
  return found;
}

type RecordCode = Extract<FactCode, `record.${string}` | `name.nobody${string}`>;

/** A finding on the record that is looked at: its zone and name are known. */
type Tell = <Code extends RecordCode>(
  code: Code,
  severity: 'error' | 'warning',
  fact: Omit<FactOf<Code>, 'zone' | 'name'>,
) => Finding;

/** Names of a chain of aliases that are told. */
const MAX_TOLD = 12;

/** How an alias goes on: over how many more, and whether it comes back to where it was. */
interface Onward {
  readonly aliases: number;
  readonly isLoop: boolean;
}

/** The aliases of a plan, each followed once however many lead to it. */
class Aliases {
  private readonly known = new Map<string, Onward>();

  constructor(private readonly state: NameState) {}

  /** From a name on. */
  from(side: Zone['side'], name: string): Onward {
    const path: string[] = [];
    const places = new Map<string, number>();
    let end: Onward = { aliases: 0, isLoop: false };
    for (let at: string | undefined = name; at !== undefined; at = this.next(side, at)) {
      const known = this.known.get(`${side} ${at}`);
      if (known !== undefined) end = known;
      else if (places.has(at)) end = { aliases: 0, isLoop: true };
      else {
        places.set(at, path.length);
        path.push(at);
        continue;
      }
      path.push(at);
      break;
    }
    for (let back = path.length - 2; back >= 0; back--) {
      end = { aliases: end.aliases + 1, isLoop: end.isLoop };
      this.known.set(`${side} ${path[back] ?? ''}`, end);
    }
    return end;
  }

  /** The first names that an alias leads over; of a loop up to the one where it comes back. */
  told(side: Zone['side'], name: string, target: string): string[] {
    const names = [name];
    for (let at: string | undefined = target; at !== undefined; at = this.next(side, at)) {
      const isBack = names.includes(at);
      names.push(at);
      if (isBack || names.length >= MAX_TOLD) break;
    }
    return names;
  }

  /** Where the alias at a name leads; undefined where there is none. Of zones around it the first in the plan that has one. */
  private next(side: Zone['side'], name: string): string | undefined {
    const byApex = grouped(this.state.parts.zones, 'apex');
    const around: Zone[] = [];
    for (let apex: string | undefined = name; apex !== undefined; apex = parentOf(apex))
      around.push(...(byApex.get(apex) ?? []).filter((zone) => zone.side === side));
    return around
      .sort((one, other) => (one.id < other.id ? -1 : 1))
      .map((zone) => this.state.treeOf(zone).setAt(name, 'CNAME')[0]?.target)
      .find((target) => target !== undefined);
  }
}

const aliasesOf = oncePer((state: NameState) => new Aliases(state));

function chain(state: NameState, { side }: Zone, { name, target = '' }: Rr, tell: Tell): Finding[] {
  const all = aliasesOf(state);
  const onward = all.from(side, target);
  const aliases = onward.aliases + 1;
  if (!onward.isLoop && aliases < LONG_CHAIN) return [];
  const told = all.told(side, name, target);
  return [
    onward.isLoop
      ? tell('record.chain:loop', 'error', { chain: told })
      : tell('record.chain', 'error', { chain: told, aliases }),
  ];
}

/** Addresses that nobody has, and names that nobody answers. */
function aimless(state: NameState, zone: Zone, rr: Rr, takers: Takers, tell: Tell): Finding[] {
  if (rr.type === 'A' || rr.type === 'AAAA') return unheld(rr, takers, tell);
  const { target } = rr;
  if (target === undefined || target === '' || rr.type === 'PTR') return [];
  if (state.balancerNamed(target) !== undefined) return [];
  if (state.isProviderName(target)) return [tell('record.dangling:provider', 'error', { target })];
  const around = state.parts.zones.filter(
    ({ apex, side }) => isWithin(target, apex) && (zone.side === 'private' || side === 'public'),
  );
  const closest = around.filter(({ apex }) => apex.length === Math.max(...around.map((each) => each.apex.length)));
  if (closest.length === 0 || rr.type === 'NS') return [];
  const isThere = closest.some((each) => state.treeOf(each).lookUp(target, 'A').outcome !== 'no name');
  return isThere ? [] : [tell('record.dangling:name', 'error', { target, targetZone: closest[0]?.name ?? '' })];
}

/** An address in a record that belongs to nothing in the plan, or on which nothing listens. */
function unheld(rr: Rr, takers: Takers, tell: Tell): Finding[] {
  const parsed = parseAddress(rr.value);
  if (!parsed.ok) return [];
  const balancer = takers.balancerAt(rr.value);
  if (balancer !== undefined)
    return takers.listens(balancer) ? [] : [tell('name.nobody:no-listener', 'error', { balancer: balancer.name })];
  if (takers.has(rr.value, hostPrefix(rr.value))) return [];
  return [
    isPublicAddress(parsed.value)
      ? tell('record.dangling:address', 'error', { address: rr.value })
      : tell('name.nobody', 'error', { address: rr.value }),
  ];
}
