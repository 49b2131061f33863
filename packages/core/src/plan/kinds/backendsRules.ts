import { byId } from '../collection.js';
import type { Backend } from './backends.js';
import { wrong } from './rules.js';
import type { KindRules } from './rules.js';

export const backendsRules: KindRules<Backend> = {
  label: ({ name }) => name,
  about: ({ members, port, balancerId }, plan) =>
    `backend of ${byId(plan.balancers, balancerId)?.name ?? ''}: ${members}, port ${port}`,
  betweenFields: ({ members, serviceId, addresses, healthPath }) => [
    ...(members === 'addresses' && serviceId !== null
      ? [
          wrong(
            'serviceId',
            'backend.service',
            'Its members are fixed addresses, and a service is named.',
            'Leave the service empty, or choose nodes or pods.',
          ),
        ]
      : []),
    ...(members !== 'addresses' && addresses.length > 0
      ? [
          wrong(
            'addresses',
            'backend.addresses',
            `Its members are ${members}, and fixed addresses are entered.`,
            'Leave them empty, or choose fixed addresses.',
          ),
        ]
      : []),
    ...(healthPath !== '' && !healthPath.startsWith('/')
      ? [
          wrong(
            'healthPath',
            'backend.path',
            `“${healthPath}” is not a path.`,
            'A path begins with a slash, such as /ready.',
          ),
        ]
      : []),
  ],
};
