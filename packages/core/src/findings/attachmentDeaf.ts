import { byId } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** An attachment that learns from a list with nothing in it: it takes no route, though it says it takes some. */
export function attachmentDeaf({
  attachments,
  links,
  networks,
}: Pick<Plan, 'attachments' | 'links' | 'networks'>): Finding[] {
  return attachments
    .filter(({ accepts, acceptsFromIds }) => accepts === 'listed' && acceptsFromIds.length === 0)
    .map((attachment) => {
      const link = byId(links, attachment.linkId)?.name ?? '';
      const network = byId(networks, attachment.networkId)?.name ?? '';
      return finding('attachment.deaf', 'warning', [{ kind: 'attachments', id: attachment.id }], { network, link });
    });
}
