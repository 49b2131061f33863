import type { Need } from './needs.js';
import { mixedFamilies, portsWithoutProtocol } from './portRules.js';
import { wrong } from './rules.js';
import type { KindRules } from './rules.js';

export const needsRules: KindRules<Need> = {
  label: ({ name }) => name,
  about: ({ prefixes, protocol, ports, access }) =>
    `need: ${access === 'private endpoint' ? 'through a private endpoint' : prefixes.slice(0, 2).join(', ')}, ${protocol} ${ports.join(', ')}`.trim(),
  betweenFields: (need) => [
    ...portsWithoutProtocol(need),
    ...mixedFamilies({ prefixes: need.prefixes }),
    ...(need.access === 'prefixes' && need.prefixes.length === 0
      ? [
          wrong(
            'prefixes',
            'need.nowhere',
            'It is reached at its prefixes, and none is named.',
            'Name them, or let it be reached through a private endpoint.',
          ),
        ]
      : []),
  ],
};
