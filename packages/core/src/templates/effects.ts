import { byId, effectiveTemplate, isSameValue, lockedFields, setOperation, templateChain } from '../plan/index.js';
import type { Cluster, Operation, Plan, Template } from '../plan/index.js';

/** A field in which a cluster is not as its template would have it. */
export interface TemplateGap {
  readonly field: keyof Cluster;
  readonly has: unknown;
  readonly wants: unknown;
  /** Whether the cluster was as the template had it before, and would follow; otherwise it went its own way (drifted). */
  readonly isFollowing: boolean;
}

/**
 * What a template means for one cluster made from it: it is alike; it accepts the change; it needs a rebuild for it; it has
 * drifted, and the change does not touch what is its own.
 */
export type TemplateState = 'alike' | 'accepts' | 'rebuild' | 'drifted';

/** One cluster made from a template, or from one based on it. */
export interface TemplateEffect {
  readonly clusterId: string;
  readonly clusterName: string;
  readonly state: TemplateState;
  readonly gaps: readonly TemplateGap[];
  /** What makes the cluster as the template has it, drift included; empty when it is alike. */
  readonly operations: readonly Operation[];
}

/** What a change of a template would do to every cluster made from it; the present template when none is given. Clusters are in order of their names. */
export function templateEffects(plan: Plan, templateId: string, changed?: Template): TemplateEffect[] {
  const present = byId(plan.templates, templateId);
  if (present === undefined) return [];
  const after: Plan =
    changed === undefined
      ? plan
      : { ...plan, templates: plan.templates.map((each) => (each.id === templateId ? changed : each)) };
  const followers = new Set(
    plan.templates
      .filter((template) => templateChain(plan, template).some(({ id }) => id === templateId))
      .map(({ id }) => id),
  );
  const [before, wanted] = [plan, after].map(
    (state) => new Map([...followers].map((id) => [id, fixesOf(state, id)] as const)),
  );
  return plan.clusters
    .filter(({ templateId: of }) => of !== null && followers.has(of))
    .map((cluster) => effectOn(cluster, before?.get(cluster.templateId ?? ''), wanted?.get(cluster.templateId ?? '')))
    .sort((a, b) => (a.clusterName < b.clusterName ? -1 : 1));
}

function fixesOf(plan: Plan, templateId: string): Partial<Cluster> {
  const template = byId(plan.templates, templateId);
  return template === undefined ? {} : effectiveTemplate(plan, template).sets;
}

function effectOn(cluster: Cluster, before: Partial<Cluster> = {}, wanted: Partial<Cluster> = {}): TemplateEffect {
  const gaps = (Object.keys(wanted) as (keyof Cluster)[]).flatMap((field): TemplateGap[] => {
    const [has, wants] = [cluster[field], wanted[field]];
    if (isSameValue(has, wants)) return [];
    // A field that was not set before is nobody's own way yet.
    const isFollowing = !(field in before) || isSameValue(has, before[field]);
    return [{ field, has, wants, isFollowing }];
  });
  const fields = Object.fromEntries(gaps.map(({ field, wants }) => [field, wants])) as Partial<Omit<Cluster, 'id'>>;
  const isLocked = ({ field }: TemplateGap) => (lockedFields as readonly string[]).includes(field);
  const following = gaps.filter(({ isFollowing }) => isFollowing);
  const state: TemplateState =
    gaps.length === 0
      ? 'alike'
      : cluster.isBuilt && gaps.some(isLocked)
        ? 'rebuild'
        : following.length === gaps.length
          ? 'accepts'
          : 'drifted';
  return {
    clusterId: cluster.id,
    clusterName: cluster.name,
    state,
    gaps,
    operations: gaps.length === 0 ? [] : [setOperation('clusters', cluster.id, fields)],
  };
}
