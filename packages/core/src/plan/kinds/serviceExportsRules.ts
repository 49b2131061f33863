import { byId } from '../collection.js';
import { notDnsLabels } from './dnsLabel.js';
import { wrong } from './rules.js';
import type { KindRules } from './rules.js';
import type { ServiceExport } from './serviceExports.js';

export const serviceExportsRules: KindRules<ServiceExport> = {
  label: ({ namespace, name }) => `${namespace}/${name}`,
  about: ({ memberId }, plan) => {
    const member = byId(plan.members, memberId);
    return `exported by ${byId(plan.clusters, member?.clusterId ?? '')?.name ?? ''} in ${byId(plan.connections, member?.connectionId ?? '')?.name ?? ''}`;
  },
  betweenFields: (each) => notDnsLabels(each),
  betweenEntities: (plan, { memberId, usedByIds }) => {
    const own = byId(plan.members, memberId);
    const inside = new Set(
      plan.members.filter(({ connectionId }) => connectionId === own?.connectionId).map(({ clusterId }) => clusterId),
    );
    const stranger = usedByIds.find((id) => !inside.has(id));
    if (stranger === undefined) return [];
    const connection = byId(plan.connections, own?.connectionId ?? '')?.name ?? '';
    return [
      wrong(
        'usedByIds',
        'export.stranger',
        `${byId(plan.clusters, stranger)?.name ?? ''} is not a member of ${connection}.`,
        'Add it to the connection first, or leave it out.',
      ),
    ];
  },
};
