import { formatPrefix } from '../../address/index.js';
import { byId } from '../collection.js';
import type { Plan } from '../entities.js';
import { grouped } from '../grouped.js';
import { around } from '../rangeIndex.js';
import { rangeOf } from '../rangeOf.js';
import { wrong } from './rules.js';
import type { FieldProblem, KindRules } from './rules.js';
import { zoneProblem } from './sitesRules.js';
import type { Subnet } from './subnets.js';

export const subnetsRules: KindRules<Subnet> = {
  label: ({ name }) => name,
  holds: { prefixes: (entity) => [rangeOf(entity)], called: ({ name }) => `subnet ${name}` },
  about: ({ prefix, purpose, delegatedTo, networkId }, plan) =>
    `${prefix} for ${delegatedTo === '' ? purpose : delegatedTo} in ${byId(plan.networks, networkId)?.name ?? ''}`,
  betweenEntities: (plan, subnet) => [
    ...zoneProblem(plan, subnet.siteId, subnet.zone),
    ...outsideBlocks(plan, subnet),
    ...(subnet.isPublic || subnet.internetEgress !== 'direct'
      ? []
      : [
          wrong(
            'internetEgress',
            'subnet.way-out',
            'A private subnet has no direct internet egress: its machines have no public addresses.',
            'Choose nat or hub, or make the subnet public.',
          ),
        ]),
  ],
};

function outsideBlocks(plan: Plan, subnet: Subnet): FieldProblem[] {
  const range = rangeOf(subnet);
  const own = grouped(plan.blocks, 'networkId').get(subnet.networkId) ?? [];
  if (around(own, range).length > 0) return [];
  const blocks = own.map(rangeOf).filter((block) => block.family === range.family);
  if (blocks.length === 0) return [];
  return [
    wrong(
      'prefix',
      'subnet.outside-network',
      `${subnet.prefix} lies in no address block of its network.`,
      `Choose a part of ${blocks.slice(0, 5).map(formatPrefix).join(' or ')}, or add a block to the network.`,
    ),
  ];
}
