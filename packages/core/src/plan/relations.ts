import { contains, formatPrefix, overlaps } from '../address/index.js';
import { bad } from '../result.js';
import type { Problem } from '../result.js';
import { byId } from './collection.js';
import type { Attachment, Block, Entity, Kind, Link, NodePool, Plan, Site, Subnet, Template } from './entities.js';
import { readFix } from './fixes.js';
import { rangeOf } from './rangeOf.js';

/** A problem of one entity with what it stands beside. */
export interface RelationProblem extends Problem {
  readonly field: string;
}

/** What must hold between an entity and others that it refers to; its own fields and references are good already. */
export function relationProblems(plan: Plan, kind: Kind, entity: Entity): RelationProblem[] {
  // The kind says which entity it is.
  switch (kind) {
    case 'subnets':
      return subnetProblems(plan, entity as Subnet);
    case 'blocks':
      return blockProblems(plan, entity as Block);
    case 'links':
      return linkProblems(plan, entity as Link);
    case 'attachments':
      return attachmentProblems(plan, entity as Attachment);
    case 'sites':
      return siteProblems(plan, entity as Site);
    case 'profiles':
    case 'shapes':
    case 'networks':
    case 'pools':
    case 'inUse':
    case 'clusters':
    case 'allocations':
    case 'runs':
    case 'rebuilds':
      return [];
    case 'templates':
      return templateProblems(plan, entity as Template);
    case 'nodePools':
      return nodePoolProblems(plan, entity as NodePool);
  }
}

/** Subnets of a network that lie in none of its blocks, when it has blocks of their family. Used when a block leaves or changes. */
export function strandedSubnets(plan: Plan, networkId: string): RelationProblem[] {
  const blocks = plan.blocks.filter((block) => block.networkId === networkId).map(rangeOf);
  const stranded = plan.subnets.find(
    (subnet) => subnet.networkId === networkId && !blocks.some((block) => contains(block, rangeOf(subnet))),
  );
  const family = stranded === undefined ? undefined : rangeOf(stranded).family;
  if (stranded === undefined || !blocks.some((block) => block.family === family)) return [];
  return [
    wrong(
      'prefix',
      'block.in-use',
      `The subnet "${stranded.name}" ${stranded.prefix} would lie outside the network’s address blocks.`,
      'Keep a block around it, or move or remove the subnet first.',
    ),
  ];
}

function blockProblems(plan: Plan, block: Block): RelationProblem[] {
  const twin = plan.blocks.find(
    (other) => other.id !== block.id && other.networkId === block.networkId && overlaps(rangeOf(other), rangeOf(block)),
  );
  if (twin === undefined) return strandedSubnets(plan, block.networkId);
  return [
    wrong(
      'prefix',
      'block.overlap',
      `${block.prefix} overlaps ${twin.prefix}, another block of its network.`,
      'Choose another range, or change that block.',
    ),
  ];
}

function subnetProblems(plan: Plan, subnet: Subnet): RelationProblem[] {
  return [
    ...zoneProblem(plan, subnet.siteId, subnet.zone),
    ...outsideBlocks(plan, subnet),
    ...(subnet.isPublic || subnet.wayOut !== 'direct'
      ? []
      : [
          wrong(
            'wayOut',
            'subnet.way-out',
            'A private subnet has no direct way out: its machines have no public addresses.',
            'Choose nat or hub, or make the subnet public.',
          ),
        ]),
  ];
}

function outsideBlocks(plan: Plan, subnet: Subnet): RelationProblem[] {
  const range = rangeOf(subnet);
  const blocks = plan.blocks
    .filter((block) => block.networkId === subnet.networkId)
    .map(rangeOf)
    .filter((block) => block.family === range.family);
  if (blocks.length === 0 || blocks.some((block) => contains(block, range))) return [];
  return [
    wrong(
      'prefix',
      'subnet.outside-network',
      `${subnet.prefix} lies in no address block of its network.`,
      `Choose a part of ${blocks.map(formatPrefix).join(' or ')}, or add a block to the network.`,
    ),
  ];
}

function zoneProblem(plan: Plan, siteId: string, zone: string): RelationProblem[] {
  const site = byId(plan.sites, siteId);
  if (zone === '' || site === undefined || site.zones.includes(zone)) return [];
  return [
    wrong(
      'zone',
      'zone.missing',
      `There is no zone "${zone}" at ${site.name}.`,
      `Its zones are ${site.zones.join(', ')}.`,
    ),
  ];
}

function linkProblems(plan: Plan, link: Link): RelationProblem[] {
  const left = plan.attachments.find(
    (attachment) => attachment.linkId === link.id && !link.networkIds.includes(attachment.networkId),
  );
  if (left === undefined) return [];
  const name = byId(plan.networks, left.networkId)?.name ?? '';
  return [
    wrong(
      'networkIds',
      'link.attached',
      `The network ${name} has an attachment to this link.`,
      'Remove that attachment first.',
    ),
  ];
}

function attachmentProblems(plan: Plan, { linkId, networkId, learnsFromIds }: Attachment): RelationProblem[] {
  const link = byId(plan.links, linkId);
  const stranger = [networkId, ...learnsFromIds].find((id) => link?.networkIds.includes(id) !== true);
  if (link === undefined || stranger === undefined) return [];
  const name = byId(plan.networks, stranger)?.name ?? '';
  return [
    wrong(
      stranger === networkId ? 'networkId' : 'learnsFromIds',
      'attachment.not-joined',
      `The network ${name} is not on the link ${link.name}.`,
      'Add it to the link first.',
    ),
  ];
}

/** Ranges of clusters that lose their zone become a finding; a subnet cannot be without its place. */
function siteProblems(plan: Plan, { id, zones }: Site): RelationProblem[] {
  const left = plan.subnets.find(({ siteId, zone }) => siteId === id && zone !== '' && !zones.includes(zone));
  if (left === undefined) return [];
  return [
    wrong(
      'zones',
      'zone.in-use',
      `The subnet "${left.name}" is in zone ${left.zone}.`,
      'Keep that zone, or move the subnet first.',
    ),
  ];
}

/** A template may be based on another, never on itself by any way; what it fixes must be fields of clusters. */
function templateProblems(plan: Plan, template: Template): RelationProblem[] {
  const fixes = template.fixes.map(readFix);
  const bad = fixes.find((fix) => !fix.ok);
  if (bad?.ok === false) return [wrong('fixes', 'template.fix', bad.message, bad.mend)];
  const fields = fixes.flatMap((fix) => (fix.ok ? [fix.field] : []));
  const twice = fields.find((field, i) => fields.indexOf(field) !== i);
  if (twice !== undefined)
    return [wrong('fixes', 'template.fix-twice', `${twice} is fixed twice.`, 'Remove one of the two.')];
  const names = [template.name];
  for (let next = byId(plan.templates, template.basedOnId ?? ''); next !== undefined;) {
    names.push(next.name);
    if (next.id === template.id)
      return [
        wrong(
          'basedOnId',
          'template.cycle',
          `The template would follow itself: ${names.join(', based on ')}.`,
          'Base one of them on nothing.',
        ),
      ];
    if (names.length > plan.templates.length + 1) return [];
    next = byId(plan.templates, next.basedOnId ?? '');
  }
  return [];
}

function nodePoolProblems(plan: Plan, { clusterId, zones, attachmentSubnetIds }: NodePool): RelationProblem[] {
  const cluster = byId(plan.clusters, clusterId);
  const site = byId(plan.sites, cluster?.siteId ?? '');
  if (cluster === undefined || site === undefined) return [];
  const unknown = zones.find((zone) => !site.zones.includes(zone));
  const elsewhere = attachmentSubnetIds
    .flatMap((id) => byId(plan.subnets, id) ?? [])
    .find(({ siteId }) => siteId !== site.id);
  return [
    ...(unknown === undefined
      ? []
      : [
          wrong(
            'zones',
            'zone.missing',
            `There is no zone "${unknown}" at ${site.name}.`,
            `Its zones are ${site.zones.join(', ')}.`,
          ),
        ]),
    ...(elsewhere === undefined
      ? []
      : [
          wrong(
            'attachmentSubnetIds',
            'attachment.elsewhere',
            `The subnet ${elsewhere.name} is not at ${site.name}.`,
            'An interface can only be in a subnet of its own site: choose one there.',
          ),
        ]),
  ];
}

function wrong(field: string, code: string, message: string, mend: string): RelationProblem {
  return { field, ...bad(code, message, mend).problem };
}
