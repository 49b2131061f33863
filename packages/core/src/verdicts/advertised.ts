import { formatPrefix, PrefixIndex } from '../address/index.js';
import type { Family, Prefix } from '../address/index.js';
import { Domains, domains } from '../domains/index.js';
import { byId, prefixesOf, rangeOf } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { section } from '../section/index.js';
import type { Use } from './use.js';

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
  const entered = [...parts.inUse, ...parts.subnets, ...parts.blocks].flatMap((each) =>
    each.networkId === null ? [] : [{ networkId: each.networkId, prefix: rangeOf(each) }],
  );
  const indexes = new Map<Family, PrefixIndex>();
  const around = (value: Prefix): string[] => {
    let index = indexes.get(value.family);
    if (index === undefined) {
      const own = entered.flatMap(({ prefix }, i) => (prefix.family === value.family ? [i] : []));
      index = new PrefixIndex(value.family, own.map((i) => (entered[i] as (typeof entered)[0]).prefix), (i) => own[i] as number); // prettier-ignore
      indexes.set(value.family, index);
    }
    const owners: string[] = [];
    index.forEachAround(value, (i) => owners.push((entered[i] as (typeof entered)[0]).networkId));
    return owners;
  };
  return [...linksOf.values()].flatMap(({ prefix, networkId, attachmentId, linkIds }): Use[] => {
    const isEntered = around(prefix).some(
      (owner) => owner === networkId || known.passesOn(linkIds, networkId, owner, prefix),
    );
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
