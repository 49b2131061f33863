import { byId } from '../collection.js';
import type { Plan } from '../entities.js';
import { grouped } from '../grouped.js';
import { around, overlapping } from '../rangeIndex.js';
import { rangeOf } from '../rangeOf.js';
import type { Block } from './blocks.js';
import { wrong } from './rules.js';
import type { FieldProblem, KindRules } from './rules.js';

export const blocksRules: KindRules<Block> = {
  label: ({ prefix, networkId }, plan) => `${prefix} of ${byId(plan.networks, networkId)?.name ?? ''}`,
  holds: {
    prefixes: (entity) => [rangeOf(entity)],
    called: ({ networkId }, plan) => `address block of ${byId(plan.networks, networkId)?.name ?? ''}`,
    isSpace: true,
  },
  about: ({ note }) => note,
  betweenEntities: (plan, block) => {
    const own = grouped(plan.blocks, 'networkId').get(block.networkId) ?? [];
    const twin = overlapping(own, rangeOf(block)).find((other) => other.id !== block.id);
    if (twin === undefined) return strandedSubnets(plan, block.networkId);
    return [
      wrong(
        'prefix',
        'block.overlap',
        `${block.prefix} overlaps ${twin.prefix}, another block of its network.`,
        'Choose another range, or change that block.',
      ),
    ];
  },
  afterRemoval: (plan, { networkId }) => strandedSubnets(plan, networkId),
};

const known = new WeakMap<Plan, Map<string, FieldProblem[]>>();

/** Subnets of a network that lie in none of its blocks, when it has blocks of their family. Looked for once per network and state of the plan. */
function strandedSubnets(plan: Plan, networkId: string): FieldProblem[] {
  const found = known.get(plan) ?? new Map<string, FieldProblem[]>();
  known.set(plan, found);
  const problems = found.get(networkId) ?? findStranded(plan, networkId);
  found.set(networkId, problems);
  return problems;
}

function findStranded(plan: Plan, networkId: string): FieldProblem[] {
  const blocks = grouped(plan.blocks, 'networkId').get(networkId) ?? [];
  const families = new Set(blocks.map((each) => rangeOf(each).family));
  const stranded = (grouped(plan.subnets, 'networkId').get(networkId) ?? []).find((subnet) => {
    const range = rangeOf(subnet);
    return families.has(range.family) && around(blocks, range).length === 0;
  });
  if (stranded === undefined) return [];
  return [
    wrong(
      'prefix',
      'block.in-use',
      `The subnet "${stranded.name}" ${stranded.prefix} would lie outside the network’s address blocks.`,
      'Keep a block around it, or move or remove the subnet first.',
    ),
  ];
}
