import { choice, integer, name, note, text } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';
import { USUAL_BYTES } from './vocabulary.js';

/** What must be able to reach what, or must not. */
export const expectations = defineKind({
  kind: 'expectations',
  code: 'expectation',
  one: 'expectation',
  about: 'What must be able to reach what, or must not.',
  since: 5,
  unique: { by: ['name'] },
  fields: {
    name: name('What is expected.'),
    from: text({
      label: 'From',
      help: 'A place, as in the question bar: pod of booking-north, the internet, 10.20.0.5 in head-office.',
      min: 1,
      max: 200,
    }),
    to: text({
      label: 'To',
      help: [
        'A target, as in the question bar: api of booking-north, 10.40.0.9 tcp 443, need registry, name',
        'api.skerryline.example, https://tickets.skerryline.example/pay.',
      ].join(' '),
      min: 1,
      max: 500,
    }),
    verdict: choice({
      label: 'Expected',
      help: 'Whether it must pass or must be refused.',
      options: ['must pass', 'must be refused'],
      fallback: 'must pass',
    }),
    bytes: integer({
      label: 'Packet',
      help: 'Size of the packets, headers included.',
      unit: 'bytes',
      min: 68,
      max: 9216,
      fallback: USUAL_BYTES,
    }),
    answer: text({
      label: 'Answered by',
      help: [
        'For a URL: the workload or the status that must answer, such as shop/storefront or 404. For a',
        'name: an address or NXDOMAIN. Empty for any that passes.',
      ].join(' '),
      min: 0,
      max: 160,
      compare: 'exact',
      fallback: '',
      since: 7,
    }),
    during: text({
      label: 'While lost',
      help: [
        'What is lost while it is asked, as drills have it: zone a of Basalt hall, site Basalt hall, NAT device, firewall or link',
        'with its name; several set apart by semicolons. Empty for the plan as it stands.',
      ].join(' '),
      min: 0,
      max: 300,
      compare: 'exact',
      fallback: '',
      since: 15,
    }),
    note: note(),
  },
});

/** What must be able to reach what, or must not. */
export type Expectation = EntityOfFields<(typeof expectations)['fields']>;
