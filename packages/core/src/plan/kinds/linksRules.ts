import { byId } from '../collection.js';
import { grouped } from '../grouped.js';
import type { Link } from './links.js';
import { wrong } from './rules.js';
import type { KindRules } from './rules.js';

export const linksRules: KindRules<Link> = {
  label: ({ name }) => name,
  about: ({ kind, networkIds }, plan) =>
    `${kind === 'hub' ? 'transit hub' : kind} of ${
      networkIds.length > 3
        ? `${networkIds.length} networks`
        : networkIds.map((id) => byId(plan.networks, id)?.name ?? '').join(', ')
    }`,
  betweenFields: ({ kind, networkIds }) =>
    kind === 'hub' || networkIds.length === 2
      ? []
      : [
          wrong(
            'networkIds',
            'link.pair-size',
            `A ${kind} joins two networks; ${networkIds.length} are named.`,
            'Name two, or make it a transit hub.',
          ),
        ],
  betweenEntities: (plan, link) => {
    const left = (grouped(plan.attachments, 'linkId').get(link.id) ?? []).find(
      ({ networkId }) => !link.networkIds.includes(networkId),
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
  },
};
