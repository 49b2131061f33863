import { choice, integer, note, reference } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

/** What building a plan is made of, each step with a duration of its own. */
export const buildSteps = [
  'account check',
  'network',
  'address block',
  'subnet',
  'link',
  'attachment',
  'route table',
  'route',
  'NAT device',
  'firewall',
  'filter',
  'rule',
  'private endpoint',
  'bastion',
  'virtual address',
  'hosted control plane',
  'control node',
  'node machine',
  'node registration',
  'pod network',
  'node readiness',
  'cluster DNS',
  'object',
  'pods',
  'balancer address',
  'load balancer',
  'listener',
  'backend',
  'health check',
  'zone',
  'record',
  'validation',
  'certificate',
  'resolver',
  'connection',
  'member',
  'tunnels',
] as const;

/** One step of building a plan. */
export type BuildStep = (typeof buildSteps)[number];

/** How long a step of a rehearsal takes with a provider, where it is not the usual time. */
export const buildTimes = defineKind({
  kind: 'buildTimes',
  code: 'buildTime',
  one: 'build time',
  about: 'How long a step of a rehearsal takes with a provider, where it is not the usual time.',
  since: 15,
  unique: {
    by: ['step', 'profileId'],
    taken: {
      field: 'step',
      code: 'build-time.twice',
      message: 'This step has a time with that profile already.',
      fix: 'Change that one instead.',
    },
  },
  fields: {
    step: choice({ label: 'Step', help: 'What is built or waited for.', options: buildSteps }),
    profileId: reference({
      label: 'Provider profile',
      help: 'Where it holds; empty for every profile without a time of its own.',
      empty: 'every profile',
      to: 'profiles',
      isOptional: true,
      onRemoval: 'cascade',
    }),
    seconds: integer({
      label: 'Duration',
      help: 'How long one takes.',
      unit: 's',
      min: 0,
      max: 2_592_000,
    }),
    atOnce: integer({
      label: 'At once',
      help: 'How many of them one site carries out at the same time.',
      unit: 'at once',
      min: 1,
      max: 10_000,
      fallback: 10,
    }),
    note: note(),
  },
});

/** How long a step of a rehearsal takes with a provider. */
export type BuildTime = EntityOfFields<(typeof buildTimes)['fields']>;
