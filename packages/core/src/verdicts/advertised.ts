import { formatPrefix } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { Domains, domains } from '../domains/index.js';
import { around, byId, prefixesOf } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { section } from '../section/index.js';
import type { Use } from './use.js';

interface Placed {
  readonly networkId: string | null;
  readonly prefix: string;
}

type Parts = Pick<Plan, 'attachments' | 'networks' | 'inUse' | 'subnets' | 'blocks'>;

/**
 * The prefixes that networks advertise, as destinations: what a link brings can be reached, whoever has entered a range
 * in it. Left out is what says nothing new: a prefix inside a range that its network, or one it passes on, has entered.
 */
export const advertisedUses = section({
  name: 'advertised prefixes',
  reads: ['attachments', 'networks', 'inUse', 'subnets', 'blocks'],
  needs: { domains },
  build: (parts, needed) => usesOf(parts, needed.domains),
});

const known = new WeakMap<Plan, readonly Use[]>();

/** The same for a plan that nobody evaluates. */
export function advertisedIn(plan: Plan): readonly Use[] {
  let found = known.get(plan);
  if (found === undefined) {
    found = usesOf(plan, new Domains(plan.networks, plan.links, plan.attachments));
    known.set(plan, found);
  }
  return found;
}

function usesOf(parts: Parts, known: Domains): readonly Use[] {
  const linksOf = new Map<string, { prefix: Prefix; networkId: string; attachmentId: string; linkIds: string[] }>();
  for (const attachment of parts.attachments) {
    for (const prefix of prefixesOf(attachment)) {
      // A default is a way to everywhere else and no destination of its own.
      if (prefix.length === 0) continue;
      const key = `${attachment.networkId} ${formatPrefix(prefix)}`;
      const one = linksOf.get(key);
      // One prefix over several links is one destination.
      if (one !== undefined) one.linkIds.push(attachment.linkId);
      else
        linksOf.set(key, {
          prefix,
          networkId: attachment.networkId,
          attachmentId: attachment.id,
          linkIds: [attachment.linkId],
        });
    }
  }
  if (linksOf.size === 0) return [];
  const destinations = [...linksOf.values()];
  // What its owner advertises is passed on by others as what is entered there.
  const told = destinations.map(({ prefix, networkId }) => ({ prefix: formatPrefix(prefix), networkId }));
  return destinations.flatMap(({ prefix, networkId, attachmentId, linkIds }): Use[] => {
    const isPassedOn = (owner: string | null) =>
      owner !== null && owner !== networkId && known.passesOn(linkIds, networkId, owner, prefix);
    const isEntered =
      [parts.inUse, parts.subnets, parts.blocks].some((ranges) =>
        around<Placed>(ranges, prefix).some(({ networkId: owner }) => owner === networkId || isPassedOn(owner)),
      ) || around<Placed>(told, prefix).some(({ networkId: owner }) => isPassedOn(owner));
    if (isEntered) return [];
    return [
      {
        kind: 'attachments',
        id: `${attachmentId} ${formatPrefix(prefix)}`,
        prefix,
        networkId,
        clusterId: null,
        isInternal: false,
        purpose: undefined,
        isMovable: false,
        advertised: { attachmentId, linkIds },
        label: `prefix advertised by ${byId(parts.networks, networkId)?.name ?? ''}`,
      },
    ];
  });
}
