import { choice, choices, integer, prefixes, references } from './field.js';
import { icmpMessages, protocols } from './vocabulary.js';

/** Where a rule stands among those of its list. */
export const position = () =>
  integer({
    label: 'Position',
    help: 'Its place among the rules: in a list in order, lower ones are looked at first.',
    unit: 'place',
    min: 1,
    max: 100_000,
    fallback: 100,
  });

/** What a rule or a need is about. */
export const protocol = () =>
  choice({
    label: 'Protocol',
    help: 'The protocol; any for all. Only tcp and udp have ports.',
    options: protocols,
    fallback: 'tcp',
  });

/** Which messages of ICMP a rule is about; none for all. */
export const icmp = () =>
  choices({
    label: 'ICMP messages',
    help: 'Those of ICMP that it is about (RFC 792, RFC 4443); none for all.',
    options: icmpMessages,
    min: 0,
    fallback: [],
    since: 13,
  });

/** What a rule does. */
export const action = () =>
  choice({
    label: 'Action',
    help: 'What happens to a packet that matches.',
    options: ['allow', 'deny'],
    fallback: 'allow',
  });

/** Prefixes that a rule is about, at one side; none for all. */
export const rulePrefixes = (label: string, help: string) => prefixes({ label, help, min: 0, max: 200, fallback: [] });

/** Prefix sets that a rule is about, at one side. */
export const rulePrefixSets = (label: string, help: string) =>
  references({ label, help, to: 'prefixSets', min: 0, max: 50, fallback: [] });
