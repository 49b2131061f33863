import { name, reference, references, text, texts } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

/** What clusters that are alike have in common; based on another template, it follows that one in whatever it does not set. */
export const templates = defineKind({
  kind: 'templates',
  code: 'template',
  one: 'cluster template',
  about: 'What identical clusters have in common.',
  since: 3,
  unique: { by: ['name'] },
  fields: {
    name: name('What the template is called.'),
    basedOnId: reference({
      label: 'Based on',
      help: 'The template it follows in whatever it does not set; empty for none.',
      empty: 'none',
      to: 'templates',
      isOptional: true,
    }),
    namePattern: text({
      label: 'Names',
      help: 'How its clusters are named, such as kiosk-{site}; empty follows the template it is based on.',
      min: 0,
      max: 60,
      fallback: '{site}',
    }),
    networkId: reference({
      label: 'Network',
      help: 'The network of its clusters; empty leaves it open.',
      empty: 'open',
      to: 'networks',
      isOptional: true,
    }),
    shapeId: reference({
      label: 'Machine shape',
      help: 'The machine shape of its clusters; empty leaves it open.',
      empty: 'open',
      to: 'shapes',
      isOptional: true,
    }),
    sets: texts({
      label: 'Sets fields',
      formerly: ['Fixes'],
      help: 'The other cluster fields it sets, each as Pod network: overlay.',
      min: 0,
      max: 40,
      maxLength: 200,
      form: 'fieldValue',
      fallback: [],
    }),
    poolIds: references({
      label: 'Pools',
      help: 'The pools its clusters take ranges from; empty for any that is open to them.',
      to: 'pools',
      min: 0,
      max: 20,
      fallback: [],
    }),
  },
});

/** What clusters that are alike have in common. */
export type Template = EntityOfFields<(typeof templates)['fields']>;
