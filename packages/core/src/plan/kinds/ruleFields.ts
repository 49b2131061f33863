import { choice, integer } from './field.js';
import { protocols } from './vocabulary.js';

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
