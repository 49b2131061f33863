import { byId } from '../collection.js';
import type { Attachment } from './attachments.js';
import { wrong } from './rules.js';
import type { KindRules } from './rules.js';

export const attachmentsRules: KindRules<Attachment> = {
  label: ({ networkId, linkId }, plan) =>
    `${byId(plan.networks, networkId)?.name ?? ''} on ${byId(plan.links, linkId)?.name ?? ''}`,
  about: ({ advertises, accepts }) =>
    `advertises ${advertises.length === 0 ? 'all its own' : advertises.join(', ')}; accepts ${accepts}`,
  betweenEntities: (plan, { linkId, networkId, acceptsFromIds }) => {
    const link = byId(plan.links, linkId);
    const stranger = [networkId, ...acceptsFromIds].find((id) => link?.networkIds.includes(id) !== true);
    if (link === undefined || stranger === undefined) return [];
    const name = byId(plan.networks, stranger)?.name ?? '';
    return [
      wrong(
        stranger === networkId ? 'networkId' : 'acceptsFromIds',
        'attachment.not-joined',
        `The network ${name} is not on the link ${link.name}.`,
        'Add it to the link first.',
      ),
    ];
  },
};
