import { parseAddress } from '../address/index.js';
import { isPublicAddress } from '../forwarding/index.js';
import { isWithin, recordTypes } from '../zones/index.js';
import type { Rr } from '../zones/index.js';
import { naming, rrOf, takers as takersOf } from '../naming/index.js';
import type { NameState, Takers } from '../naming/index.js';
import { byId, hostPrefix } from '../plan/index.js';
import type { DnsRecord, Zone } from '../plan/index.js';
import { bySubject, ownersIn, together, unless } from '../section/index.js';
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
  rests: (record, _, needed) => {
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
      unless(
        [was.takers, is.takers],
        [was.naming.compiled, is.naming.compiled],
        [was.naming.parts.zones, is.naming.parts.zones],
        [was.naming.parts.profiles, is.naming.parts.profiles],
      ),
      ownersIn(was.naming.parts, is.naming.parts, ['records'], 'id'),
    ),
  look: (record, _, needed) => ofRecord(needed.naming, record, needed.takers),
});

function ofRecord(state: NameState, record: DnsRecord, takers: Takers): Finding[] {
  const zone = byId(state.parts.zones, record.zoneId);
  const rr = zone === undefined ? undefined : rrOf(record, zone);
  if (zone === undefined || rr === undefined) return [];
  const subjects = [
    { kind: 'records', id: record.id },
    { kind: 'zones', id: zone.id },
  ] as const;
  const say = (code: string, severity: 'error' | 'warning', title: string, detail: string) =>
    finding(code, severity, subjects, { title: `${zone.name}: ${title}`, detail, part: record.id });
  const found: Finding[] = [];
  const tree = state.treeOf(zone);
  if (rr.type === 'CNAME') {
    if (rr.name === zone.apex)
      found.push(
        say(
          'record.alias-apex',
          'error',
          `${rr.name} is an alias at the apex`,
          'The apex has a SOA and NS records, and an alias may stand beside nothing (RFC 1034 3.6.2). Use A and AAAA records there.',
        ),
      );
    else if (
      recordTypes.some((type) => type !== 'CNAME' && tree.setAt(rr.name, type).length > 0) ||
      tree.setAt(rr.name, 'CNAME').length > 1
    )
      found.push(
        say(
          'record.alias-beside',
          'error',
          `${rr.name} is an alias beside other records`,
          'A name that is an alias has no other data (RFC 1034 3.6.2, RFC 2181 10.1): name servers refuse the zone. Keep the alias or the others.',
        ),
      );
    else found.push(...chain(state, zone, rr, say));
  }
  const isMoving = rr.type === 'A' || rr.type === 'AAAA' || rr.type === 'CNAME';
  const isServer = zone.nameServers.some((each) => each.toLowerCase() === rr.name);
  if (isMoving && !isServer && zone.cutOverAim !== null && rr.ttl > zone.cutOverAim)
    found.push(
      say(
        'record.ttl',
        'warning',
        `${rr.name} may be cached for ${rr.ttl.toLocaleString('en-US')} s`,
        [
          `Names of the zone are to move within ${zone.cutOverAim.toLocaleString('en-US')} s.`,
          `Lower the TTL at least ${rr.ttl.toLocaleString('en-US')} s before the move.`,
        ].join(' '),
      ),
    );
  if (record.target === 'in this plan') found.push(...aimless(state, zone, rr, takers, say));
  return found;
}

type Say = (code: string, severity: 'error' | 'warning', title: string, detail: string) => Finding;

function chain(state: NameState, zone: Zone, rr: Rr, say: Say): Finding[] {
  const seen = [rr.name];
  for (let at = rr.target ?? ''; ;) {
    if (seen.includes(at))
      return [
        say(
          'record.chain',
          'error',
          `the alias ${rr.name} loops`,
          `${[...seen, at].join(' → ')}. Resolvers answer SERVFAIL. Let it end at an address.`,
        ),
      ];
    seen.push(at);
    const next = state.parts.zones
      .filter(({ side, apex }) => side === zone.side && isWithin(at, apex))
      .map((each) => state.treeOf(each).setAt(at, 'CNAME')[0])
      .find((each) => each !== undefined);
    if (next === undefined) break;
    at = next.target ?? '';
  }
  if (seen.length <= LONG_CHAIN) return [];
  return [
    say(
      'record.chain',
      'error',
      `${rr.name} is ${seen.length - 1} aliases away from its address`,
      `${seen.join(' → ')}. Resolvers give up after 8 to 16. Let it lead straight to the last name.`,
    ),
  ];
}

/** Addresses that nobody has, and names that nobody answers. */
function aimless(state: NameState, zone: Zone, rr: Rr, takers: Takers, say: Say): Finding[] {
  if (rr.type === 'A' || rr.type === 'AAAA') return unheld(rr, takers, say);
  const { target } = rr;
  if (target === undefined || target === '' || rr.type === 'PTR') return [];
  if (state.balancerNamed(target) !== undefined) return [];
  if (state.isProviderName(target))
    return [
      say(
        'record.dangling',
        'error',
        `${rr.name} leads to ${target}, which no load balancer has`,
        'The provider may give that name to anyone, who then answers under yours. Remove the record, or name a load balancer that is there.',
      ),
    ];
  const around = state.parts.zones.filter(
    ({ apex, side }) => isWithin(target, apex) && (zone.side === 'private' || side === 'public'),
  );
  const closest = around.filter(({ apex }) => apex.length === Math.max(...around.map((each) => each.apex.length)));
  if (closest.length === 0 || rr.type === 'NS') return [];
  const isThere = closest.some((each) => state.treeOf(each).lookUp(target, 'A').outcome !== 'no name');
  return isThere
    ? []
    : [
        say(
          'record.dangling',
          'error',
          `${rr.name} leads to ${target}, which does not exist`,
          `The zone ${closest[0]?.name ?? ''} has no such name. Add it, or correct the record.`,
        ),
      ];
}

/** An address in a record that belongs to nothing in the plan, or on which nothing listens. */
function unheld(rr: Rr, takers: Takers, say: Say): Finding[] {
  const parsed = parseAddress(rr.value);
  if (!parsed.ok) return [];
  const balancer = takers.balancerAt(rr.value);
  if (balancer !== undefined)
    return takers.listens(balancer)
      ? []
      : [
          say(
            'name.nobody',
            'error',
            `${rr.name} answers ${balancer.name}, which has no listener`,
            'Calls are refused. Add a listener, or remove the record.',
          ),
        ];
  if (takers.has(rr.value, hostPrefix(rr.value))) return [];
  return isPublicAddress(parsed.value)
    ? [
        say(
          'record.dangling',
          'error',
          `${rr.name} answers ${rr.value}, which nothing in the plan holds`,
          'Whoever is given that address next answers under your name. Remove the record, or say that its target is elsewhere.',
        ),
      ]
    : [
        say(
          'name.nobody',
          'error',
          `${rr.name} answers ${rr.value}, where nothing listens`,
          'No load balancer, device or machine of the plan has that address. Correct it, or say that its target is elsewhere.',
        ),
      ];
}
