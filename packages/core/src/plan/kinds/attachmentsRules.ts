import { byId } from '../collection.js';
import type { Attachment } from './attachments.js';
import { wrong } from './rules.js';
import type { KindRules } from './rules.js';

export const attachmentsRules: KindRules<Attachment> = {
  label: ({ networkId, linkId }, plan) =>
    `${byId(plan.networks, networkId)?.name ?? ''} on ${byId(plan.links, linkId)?.name ?? ''}`,
  about: ({ advertises, learns }) =>
    `advertises ${advertises.length === 0 ? 'all its own' : advertises.join(', ')}; accepts ${learns}`,
  betweenEntities: (plan, { linkId, networkId, learnsFromIds }) => {
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
  },
};
