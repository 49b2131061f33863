import { parentOf, readFullName } from '../../zones/index.js';
import type { FieldProblem, KindRules } from './rules.js';
import { wrong } from './rules.js';
import type { Zone } from './zones.js';

export const zonesRules: KindRules<Zone> = {
  label: ({ name }) => name,
  about: ({ apex, side }) => `${side} zone ${apex}`,
  headings: { zone: 'name', domain: 'apex', networks: 'networkIds' },
  betweenFields: (zone) => [
    ...notName('apex', zone.apex),
    ...notName('primary', zone.primary),
    ...notName('mailbox', zone.mailbox),
    ...unfitting(zone),
  ],
};

/** A text that is no domain name; capitals and letters of other alphabets are told in the form that is stored. */
export function notName(field: string, text: string): FieldProblem[] {
  if (text === '') return [];
  const read = readFullName(text);
  if (!read.ok) return [{ field, ...read.problem }];
  if (read.value === '')
    return [wrong(field, 'dns.root', 'The root cannot be a name in a plan.', 'Write a domain name.')];
  if (read.value !== text)
    return [
      wrong(
        field,
        'dns.form',
        `“${text}” is stored as ${read.value}.`,
        'Use lower case without a trailing dot, and other alphabets as xn-- (RFC 5891).',
      ),
    ];
  return [];
}

function unfitting({ apex, side, networkIds }: Zone): FieldProblem[] {
  if (side === 'public' && networkIds.length > 0)
    return [
      wrong(
        'networkIds',
        'zone.public',
        'A public zone answers everybody.',
        'Leave out its networks, or make it private.',
      ),
    ];
  // Of one label only that which is reserved for private use is nobody’s (ICANN resolution 2024.07.29.06).
  if (apex !== '' && parentOf(apex) === '' && !(side === 'private' && apex === 'internal'))
    return [
      wrong(
        'apex',
        'zone.top',
        `“${apex}” is a top-level domain.`,
        'Write a name below one; “internal” may be a private zone.',
      ),
    ];
  return [];
}
