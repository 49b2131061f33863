import { readName, readValue } from '../../zones/index.js';
import { byId } from '../collection.js';
import type { DnsRecord } from './records.js';
import type { FieldProblem, KindRules } from './rules.js';
import { wrong } from './rules.js';

export const recordsRules: KindRules<DnsRecord> = {
  label: ({ name, zoneId }, plan) => {
    const apex = byId(plan.zones, zoneId)?.apex ?? '';
    // The zone may be one that is added along with it.
    return name === '@' ? apex || name : apex === '' ? name : `${name}.${apex}`;
  },
  about: ({ type, value, zoneId }, plan) => {
    // Zones of two sides may have one domain name, so only their own name tells them apart.
    const zone = byId(plan.zones, zoneId)?.name ?? '';
    return `${type} ${value}${zone === '' ? '' : ` in zone ${zone}`}`;
  },
  headings: { host: 'name', data: 'value', rdata: 'value' },
  betweenFields: ({ name, type, value }) => [...notOwner(name), ...notValue(type, value)],
  betweenEntities: (plan, { zoneId, name }) => {
    const apex = byId(plan.zones, zoneId)?.apex ?? '';
    const read = readName(name, apex);
    if (!read.ok) return [{ field: 'name', ...read.problem }];
    return name.endsWith(`.${apex}`)
      ? [
          wrong(
            'name',
            'record.twice-named',
            `“${name}” would be ${read.value}.`,
            'Names stand below the zone’s own: leave that out, or write @ for it.',
          ),
        ]
      : [];
  },
};

function notOwner(name: string): FieldProblem[] {
  if (name === '@') return [];
  const read = readName(name, '');
  if (!read.ok) return [{ field: 'name', ...read.problem }];
  if (name.endsWith('.') || read.value === '')
    return [
      wrong('name', 'record.full', `“${name}” ends with a dot.`, 'Write the part below the zone’s own name, or @.'),
    ];
  return read.value === name
    ? []
    : [
        wrong(
          'name',
          'dns.form',
          `“${name}” is stored as ${read.value}.`,
          'Use lower case, and other alphabets as xn-- (RFC 5891).',
        ),
      ];
}

function notValue(type: DnsRecord['type'], value: string): FieldProblem[] {
  const read = readValue(type, value);
  return read.ok ? [] : [{ field: 'value', ...read.problem }];
}
