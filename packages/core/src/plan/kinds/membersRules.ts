import { contains, overlaps } from '../../address/index.js';
import { byId } from '../collection.js';
import type { Plan } from '../entities.js';
import { grouped } from '../grouped.js';
import { readTranslation } from '../translations.js';
import { rangeOf } from '../rangeOf.js';
import { publicSuffix, tooManyInMesh } from './connectionsRules.js';
import { notDnsLabel } from './dnsLabel.js';
import type { Member } from './members.js';
import { wrong } from './rules.js';
import type { FieldProblem, KindRules } from './rules.js';
import { zoneProblem } from './sitesRules.js';
import { notName } from './zonesRules.js';

export const membersRules: KindRules<Member> = {
  label: ({ clusterId, connectionId }, plan) =>
    `${byId(plan.clusters, clusterId)?.name ?? ''} in ${byId(plan.connections, connectionId)?.name ?? ''}`,
  about: ({ memberId, connectionId }, plan) =>
    `member ${memberId} of ${byId(plan.connections, connectionId)?.name ?? ''}`,
  holds: {
    prefixes: ({ translated }) => translated.flatMap((text) => readTranslation(text)?.shown ?? []),
    called: ({ clusterId }, plan) => `translated range of ${byId(plan.clusters, clusterId)?.name ?? ''}`,
  },
  headings: { id: 'memberId', relays: 'gateways' },
  betweenFields: (member) => [
    ...notDnsLabel('memberId', member.memberId, 'member.id'),
    ...notName('dnsSuffix', member.dnsSuffix),
    ...twiceShown(member),
    ...addressCount(member),
  ],
  betweenEntities: (plan, member) => [
    ...publicSuffix(plan, 'dnsSuffix', member.dnsSuffix),
    ...zones(plan, member),
    ...strangeRanges(plan, member),
    ...second(plan, member),
    ...mesh(plan, member),
  ],
};

function twiceShown({ translated }: Member): FieldProblem[] {
  const read = translated.flatMap((text) => readTranslation(text) ?? []);
  for (const [at, one] of read.entries())
    for (const other of read.slice(at + 1))
      for (const side of ['own', 'shown'] as const)
        if (overlaps(one[side], other[side]))
          return [
            wrong(
              'translated',
              'member.translated-twice',
              `“${translated[at] ?? ''}” and another translation overlap.`,
              'Give each own range one translated range, and each of these to one.',
            ),
          ];
  return [];
}

function addressCount({ gateways, gatewayAddresses }: Member): FieldProblem[] {
  if (gatewayAddresses.length <= gateways) return [];
  return [
    wrong(
      'gatewayAddresses',
      'member.addresses',
      `${gatewayAddresses.length} addresses are named for ${gateways} ${gateways === 1 ? 'gateway' : 'gateways'}.`,
      'Name at most one for each gateway, or raise the gateways.',
    ),
  ];
}

function zones(plan: Plan, { clusterId, gatewayZones }: Member): FieldProblem[] {
  const siteId = byId(plan.clusters, clusterId)?.siteId ?? '';
  return gatewayZones.flatMap((zone) => zoneProblem(plan, siteId, zone, 'gatewayZones')).slice(0, 1);
}

/** A translation stands for a range that the cluster has, whole or a part of it. */
function strangeRanges(plan: Plan, { clusterId, translated }: Member): FieldProblem[] {
  const own = (grouped(plan.allocations, 'clusterId').get(clusterId) ?? []).filter(
    ({ purpose }) => purpose === 'pod' || purpose === 'service',
  );
  if (own.length === 0) return [];
  const strange = translated.find((text) => {
    const read = readTranslation(text);
    return (
      read !== undefined &&
      !own.some((range) => contains(rangeOf(range), read.own) || contains(read.own, rangeOf(range)))
    );
  });
  if (strange === undefined) return [];
  return [
    wrong(
      'translated',
      'member.range',
      `“${strange}” translates no pod or service range of ${byId(plan.clusters, clusterId)?.name ?? ''}.`,
      `Its ranges are ${own
        .map(({ prefix }) => prefix)
        .slice(0, 6)
        .join(', ')}.`,
    ),
  ];
}

function second(plan: Plan, { id, connectionId, isHub }: Member): FieldProblem[] {
  const other = isHub
    ? (grouped(plan.members, 'connectionId').get(connectionId) ?? []).find((each) => each.isHub && each.id !== id)
    : undefined;
  if (other === undefined) return [];
  return [
    wrong(
      'isHub',
      'member.hub',
      `${byId(plan.clusters, other.clusterId)?.name ?? ''} is the hub of this connection.`,
      'A connection has one hub.',
    ),
  ];
}

function mesh(plan: Plan, { connectionId }: Member): FieldProblem[] {
  const connection = byId(plan.connections, connectionId);
  if (connection === undefined || connection.method === 'flat' || connection.shape === 'hub') return [];
  return tooManyInMesh(plan, connectionId, 'connectionId');
}
