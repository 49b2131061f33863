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
    help: 'Which messages of ICMP, by RFC 792 and RFC 4443: echo request 8 or 128, echo reply 0 or 129, unreachable 3 or 1, too big 3/4 or 2, time exceeded 11 or 3, parameter problem 12 or 4; none for all.',
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
