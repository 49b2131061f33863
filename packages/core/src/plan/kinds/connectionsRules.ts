import { parseAddress } from '../../address/index.js';
import { isWithin, readFullName } from '../../zones/index.js';
import type { Connection } from './connections.js';
import type { Plan } from '../entities.js';
import { grouped } from '../grouped.js';
import { wrong } from './rules.js';
import type { FieldProblem, KindRules } from './rules.js';
import { notName } from './zonesRules.js';
import { formatNumber } from '../../working/index.js';

/** Tunnels or links of a full mesh: each member with each. */
export function meshLinks(members: number): number {
  return (members * (members - 1)) / 2;
}

/** Members of a full mesh: beyond them each would hold hundreds of tunnels, and all together tens of thousands. */
const MAX_IN_MESH = 500;

export const connectionsRules: KindRules<Connection> = {
  label: ({ name }) => name,
  about: ({ method, isPlanned }) => `connection, ${method}${isPlanned ? ', planned' : ''}`,
  headings: { type: 'method', encryption: 'tunnel', key: 'keyReference', psk: 'keyReference' },
  betweenFields: ({ rendezvous, keyReference, domain }) => [
    ...notPlace(rendezvous),
    ...keyProblem(keyReference),
    ...notName('domain', domain),
  ],
  betweenEntities: (plan, { id, domain, shape, method }) => [
    ...publicSuffix(plan, 'domain', domain),
    ...(method === 'flat' || shape === 'hub' ? [] : tooManyInMesh(plan, id)),
  ],
};

/** A full mesh grows by the square of its members. */
export function tooManyInMesh(plan: Plan, connectionId: string, field = 'shape'): FieldProblem[] {
  const count = grouped(plan.members, 'connectionId').get(connectionId)?.length ?? 0;
  if (count <= MAX_IN_MESH) return [];
  return [
    wrong(
      field,
      'connection.mesh',
      [
        `A full mesh of ${formatNumber(count)} members has ${formatNumber(meshLinks(count))} tunnels or links;`,
        `${MAX_IN_MESH} members are the most.`,
      ].join(' '),
      'Choose the shape hub, or part the members over several connections.',
    ),
  ];
}

/** A suffix of members’ services that the public DNS answers for, or a whole top-level domain. */
export function publicSuffix(plan: Plan, field: string, suffix: string): FieldProblem[] {
  if (suffix === '') return [];
  if (!suffix.includes('.'))
    return [
      wrong(
        field,
        'suffix.top',
        `“${suffix}” is a top-level domain.`,
        'Write a name below one, such as clusterset.local.',
      ),
    ];
  const zone = plan.zones.find(
    ({ side, apex }) => side === 'public' && (isWithin(suffix, apex) || isWithin(apex, suffix)),
  );
  if (zone === undefined) return [];
  return [
    wrong(
      field,
      'suffix.public',
      `“${suffix}” is in the public zone ${zone.name}: names of services would meet names of the internet.`,
      'Choose a suffix that no public zone holds, such as clusterset.local.',
    ),
  ];
}

function notPlace(rendezvous: string): FieldProblem[] {
  if (rendezvous === '' || parseAddress(rendezvous).ok) return [];
  const name = readFullName(rendezvous);
  if (name.ok && name.value === rendezvous && rendezvous.includes('.')) return [];
  return [
    wrong(
      'rendezvous',
      'rendezvous.form',
      `“${rendezvous}” is neither an address nor a host name.`,
      'Write one such as 10.31.255.40 or meet.skerryline.example.',
    ),
  ];
}

// At least two words of a path, each of letters, digits and a few marks: a password or a key is none.
const pathPattern = /^[A-Za-z][A-Za-z0-9._-]{0,31}(?:[/:][A-Za-z0-9][A-Za-z0-9._-]{0,31}){1,7}$/;
const keyLike = [
  /-----BEGIN/i,
  /[A-Fa-f0-9]{24,}/,
  /(?=[A-Za-z0-9+/]*[0-9+])(?=[A-Za-z0-9+/]*[A-Z])(?=[A-Za-z0-9+/]*[a-z])[A-Za-z0-9+]{20,}/,
  /=\s*$/,
];

/** Whether a text looks like a key, a certificate or a password instead of the place where one is kept. */
export function looksLikeKey(text: string): boolean {
  return text !== '' && (keyLike.some((pattern) => pattern.test(text)) || !pathPattern.test(text));
}

/** What was pasted is never repeated: a message may be shown, stored or logged. */
function keyProblem(text: string): FieldProblem[] {
  if (!looksLikeKey(text)) return [];
  return [
    wrong(
      'keyReference',
      'key.material',
      'This looks like the key itself, so it was not stored.',
      'Enter where the key is kept, such as keys/wan/coast, and rotate any key you have pasted.',
    ),
  ];
}
