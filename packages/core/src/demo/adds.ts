import { addOperation, kinds, withFallbacks } from '../plan/index.js';
import type { EntityOf, Kind, Operation } from '../plan/index.js';

/** The kinds in the order that the ids of the demo were made by; later ones come after them. */
const firstKinds: readonly Kind[] = [
  'profiles',
  'shapes',
  'sites',
  'networks',
  'blocks',
  'subnets',
  'links',
  'attachments',
  'pools',
  'inUse',
  'templates',
  'clusters',
  'nodePools',
  'allocations',
  'reservations',
  'rebuilds',
  'prefixSets',
  'routeTables',
  'natDevices',
  'firewalls',
  'routes',
  'bastions',
  'endpoints',
  'filters',
  'filterRules',
  'firewallRules',
  'needs',
  'expectations',
  'workloads',
  'services',
];
const places = [...firstKinds, ...kinds.filter((kind) => !firstKinds.includes(kind))];

/** The nth id of a kind: a UUID of version 7 with a fixed time. Ids stay as they are when kinds are added. */
export function demoId(kind: Kind, n: number): string {
  const place = places.indexOf(kind).toString(16).padStart(4, '0');
  return `019aa000-${place}-7000-8000-${n.toString(16).padStart(12, '0')}`;
}

/** Fields of an entity of the demo. */
export type Fields<K extends Kind> = Partial<Omit<EntityOf[K], 'id'>>;

/** Adds entities with ids from 1 on; fields that are left out have their usual values. */
export function adds<K extends Kind>(kind: K, all: readonly Fields<K>[]): Operation[] {
  return addsFrom(kind, 1, all);
}

/** The same with ids from a number on. */
export function addsFrom<K extends Kind>(kind: K, first: number, all: readonly Fields<K>[]): Operation[] {
  return all.map((fields, i) =>
    addOperation(kind, withFallbacks(kind, { id: demoId(kind, first + i), ...fields } as Partial<EntityOf[K]>)),
  );
}
