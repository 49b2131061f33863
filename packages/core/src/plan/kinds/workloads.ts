import { choice, decimal, integer, name, note, optionalInteger, reference, text, texts } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

/** A namespace of the Kubernetes API. */
export const namespace = (help: string) =>
  text({ label: 'Namespace', help, min: 1, max: 63, compare: 'exact', fallback: 'default' });

const replicas = (label: string, help: string) => integer({ label, help, unit: 'pods', min: 0, max: 100_000 });

/** What a manifest said that the plan does not know, kept for writing it back. */
export const keptFields = () =>
  text({
    label: 'Preserved fields',
    formerly: ['Kept fields'],
    help: 'What a manifest said that the plan does not know: kept as JSON, and written back.',
    group: 'Manifest',
    min: 0,
    max: 8000,
    compare: 'exact',
    fallback: '',
    since: 7,
  });

/** Pods of one cluster that are alike, described once. */
export const workloads = defineKind({
  kind: 'workloads',
  code: 'workload',
  one: 'workload',
  about: 'Identical pods of one cluster, described once.',
  since: 6,
  unique: { by: ['clusterId', 'namespace', 'name'] },
  fields: {
    name: name('What the workload is called.'),
    clusterId: reference({ label: 'Cluster', help: 'Where it runs.', to: 'clusters', onRemoval: 'cascade' }),
    namespace: namespace('The namespace its pods are in.'),
    labels: texts({
      label: 'Labels',
      help: 'Labels of its pods, each as key=value: what services select.',
      min: 0,
      max: 32,
      maxLength: 320,
      form: 'label',
      fallback: [],
    }),
    replicasNow: replicas('Replicas', 'Pods today.'),
    replicasHorizon: replicas('At horizon', 'Pods at the horizon.'),
    notReady: integer({
      label: 'Not ready',
      help: 'How many of its pods today are not ready: they get no calls, unless a service publishes them all the same.',
      unit: 'pods',
      min: 0,
      max: 100_000,
      fallback: 0,
      since: 13,
    }),
    ports: texts({
      label: 'Container ports',
      help: 'Each as protocol and number, with a name before it if it has one: http tcp 8080.',
      min: 0,
      max: 32,
      maxLength: 32,
      form: 'containerPort',
      fallback: [],
    }),
    nodePoolId: reference({
      label: 'Node pool',
      help: 'The node pool it runs on; empty for any.',
      empty: 'any',
      to: 'nodePools',
      isOptional: true,
    }),
    nodeLabels: texts({
      label: 'Node labels',
      help: 'Labels that a node must have to run it.',
      min: 0,
      max: 16,
      maxLength: 320,
      form: 'label',
      fallback: [],
    }),
    spread: choice({
      label: 'Spread',
      help: 'Evenly over the zones, or wherever there is room.',
      options: ['zones', 'anywhere'],
      fallback: 'zones',
    }),
    cpuMillis: integer({
      label: 'CPU request',
      help: 'What each pod asks for; 1,000 m are one vCPU.',
      unit: 'm',
      min: 0,
      max: 1_000_000,
      fallback: 0,
    }),
    memoryMib: integer({
      label: 'Memory request',
      help: 'What each pod asks for.',
      unit: 'MiB',
      min: 0,
      max: 16_000_000,
      fallback: 0,
    }),
    cpuLimit: optionalInteger({
      label: 'CPU limit',
      help: 'What each pod may use at most; empty for what its node has.',
      empty: 'none',
      unit: 'm',
      min: 1,
      max: 1_000_000,
      since: 7,
    }),
    memoryLimit: optionalInteger({
      label: 'Memory limit',
      help: 'What each pod may use at most; beyond it the pod is ended.',
      empty: 'none',
      unit: 'MiB',
      min: 1,
      max: 16_000_000,
      since: 7,
    }),
    serviceMs: decimal({
      label: 'Service time',
      help: 'How long a pod works on one call, on average.',
      unit: 'ms',
      min: 0.01,
      max: 3_600_000,
      decimals: 2,
      isOptional: true,
      since: 7,
    }),
    concurrency: integer({
      label: 'Concurrency',
      help: 'Calls that a pod works on at once; further ones wait.',
      unit: 'calls',
      min: 1,
      max: 100_000,
      fallback: 1,
      since: 7,
    }),
    callsTo: texts({
      label: 'Calls to',
      help: 'Host names that its pods look up, as they write them: with a final dot where they write one.',
      min: 0,
      max: 50,
      maxLength: 254,
      fallback: [],
      group: 'DNS lookups',
      since: 8,
    }),
    lookUps: decimal({
      label: 'DNS lookups',
      help: 'How often one pod needs an address, before any cache.',
      unit: 'per second',
      min: 0,
      max: 1_000_000,
      decimals: 2,
      isOptional: false,
      fallback: 0,
      group: 'DNS lookups',
      since: 8,
    }),
    dnsCache: choice({
      label: 'DNS cache',
      help: 'How long its runtime caches an answer: not at all, a fixed time, for the TTL of the record, or until it is restarted.',
      options: ['none', '30 s', 'TTL', 'until restart'],
      fallback: 'none',
      group: 'DNS lookups',
      since: 8,
    }),
    objectKind: choice({
      label: 'Kind',
      help: 'The kind of object that runs its pods.',
      options: ['Deployment', 'StatefulSet', 'DaemonSet'],
      fallback: 'Deployment',
      since: 7,
    }),
    preserved: keptFields(),
    note: note(),
  },
});

/** Pods of one cluster that are alike, described once. */
export type Workload = EntityOfFields<(typeof workloads)['fields']>;
