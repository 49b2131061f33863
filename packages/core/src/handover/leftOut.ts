import { fallbackOf, kindOf, writeField } from '../plan/index.js';
import type { Entity, FieldRule, FieldValue, Kind, Plan } from '../plan/index.js';
import type { PartOfPlan } from './partOfPlan.js';

/** Fields that a manifest has no place for, or not in every form of it: read back, they are gone (handover.test). */
export const notInManifests: Partial<Readonly<Record<Kind, readonly string[]>>> = {
  workloads: [
    'serviceMs',
    'concurrency',
    'callsTo',
    'lookUps',
    'replicasHorizon',
    'dnsCache',
    'nodePoolId',
    'notReady',
  ],
  services: ['note'],
  controllers: ['classes', 'defaultClass', 'tier', 'serviceId', 'balancerId', 'note'],
  gateways: ['certificateHosts', 'note'],
  ingressRoutes: ['age', 'certificateHosts', 'rateLimitPerMinute', 'rateLimitAlgorithm', 'note'],
  networkPolicies: ['note'],
  referenceGrants: ['note'],
};

/** Fields that a zone file has no place for. */
const notInZoneFiles: Partial<Readonly<Record<Kind, readonly string[]>>> = {
  zones: ['side', 'networkIds', 'isDelegated', 'cutOverTarget', 'note'],
  records: ['target', 'note'],
};

/** A value that a file of the bundle cannot hold. */
export type LeftOut = Readonly<Record<'format' | 'kind' | 'name' | 'field' | 'value', string>>;

/** Everything of a part that its manifests and zone files cannot hold: it is in the tables. */
export function leftOutOf(plan: Plan, part: PartOfPlan): LeftOut[] {
  return [...inFormat(plan, part, 'manifest', notInManifests), ...inFormat(plan, part, 'zone file', notInZoneFiles)];
}

function inFormat(plan: Plan, part: PartOfPlan, format: string, fields: typeof notInManifests): LeftOut[] {
  return (Object.entries(fields) as [Kind, readonly string[]][]).flatMap(([kind, names]) =>
    (part[kind] as readonly Entity[]).flatMap((entity) =>
      names.flatMap((field): LeftOut[] => {
        const rule = kindOf[kind].fields[field] as FieldRule | undefined;
        const value = (entity as unknown as Readonly<Record<string, FieldValue>>)[field] ?? null;
        if (rule === undefined || isUsual(rule, value)) return [];
        const { one } = kindOf[kind];
        return [{ format, kind: one, name: nameOf(entity), field: rule.label, value: writeField(plan, rule, value) }];
      }),
    ),
  );
}

/** Whether a field says nothing: it is empty, or as a form leaves it. */
function isUsual(rule: FieldRule, value: FieldValue): boolean {
  if (value === null || value === '' || (Array.isArray(value) && value.length === 0)) return true;
  return JSON.stringify(fallbackOf(rule)) === JSON.stringify(value);
}

function nameOf(entity: Entity): string {
  const { name = '', namespace = '' } = entity as { readonly name?: string; readonly namespace?: string };
  return namespace === '' ? name : `${namespace}/${name}`;
}
