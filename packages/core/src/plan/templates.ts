import { byId } from './collection.js';
import type { Plan } from './entities.js';
import { readFieldValue } from './fieldValues.js';
import type { Cluster } from './kinds/clusters.js';
import type { Template } from './kinds/templates.js';

/** What a template comes to with all that it is based on. */
export interface EffectiveTemplate {
  readonly namePattern: string;
  /** The fields of a cluster that it sets, its network and shape included, with their values. */
  readonly sets: Readonly<Partial<Omit<Cluster, 'id'>>>;
  readonly poolIds: readonly string[];
}

/** A template and those it is based on, itself first. A cycle is refused when a plan is made; here it only ends the list. */
export function templateChain(plan: Plan, template: Template): Template[] {
  const chain: Template[] = [];
  for (let next: Template | undefined = template; next !== undefined && !chain.includes(next);)
    [next] = [byId(plan.templates, next.basedOnId ?? ''), chain.push(next)];
  return chain;
}

/** What holds for the clusters of a template: its own values over those of the templates it is based on. */
export function effectiveTemplate(plan: Plan, template: Template): EffectiveTemplate {
  const chain = templateChain(plan, template);
  const values: Record<string, unknown> = {};
  for (const each of [...chain].reverse()) {
    for (const text of each.sets) {
      const fix = readFieldValue(text);
      if (fix.ok) values[fix.field] = fix.value;
    }
    if (each.networkId !== null) values['networkId'] = each.networkId;
    if (each.shapeId !== null) values['shapeId'] = each.shapeId;
  }
  return {
    namePattern: chain.find(({ namePattern }) => namePattern !== '')?.namePattern ?? '{site}',
    // Each value was checked by the rule of its field.
    sets: values,
    poolIds: chain.find(({ poolIds }) => poolIds.length > 0)?.poolIds ?? [],
  };
}

/** The pools that a cluster's template has it take ranges from; empty for any. */
export function templatePools(plan: Plan, { templateId }: Cluster): readonly string[] {
  if (templateId === null) return [];
  const template = byId(plan.templates, templateId);
  if (template === undefined) return [];
  return templateChain(plan, template).find(({ poolIds }) => poolIds.length > 0)?.poolIds ?? [];
}
