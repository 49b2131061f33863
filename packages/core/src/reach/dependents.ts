import { readPacketQuestion, USUAL_BYTES } from '../plan/index.js';
import type { Plan, QuestionNames } from '../plan/index.js';
import { decisionsOf, lookUpOf, subjectOf } from '../road/index.js';
import type { Forwarding, Trace } from '../forwarding/index.js';
import { needsOf, trace } from '../forwarding/index.js';

/** What rests on a row of a sheet: expectations and needs whose packets pass by it, or are stopped by it. */
export interface Dependents {
  readonly expectations: readonly { readonly id: string; readonly name: string; readonly verdict: Trace['verdict'] }[];
  readonly needs: readonly { readonly id: string; readonly name: string; readonly clusters: readonly string[] }[];
}

/** Clusters whose needs are followed; the others are left out, and it is said. */
export const MAX_FOLLOWED = 300;

/** What it follows from, beside the forwarding. */
export const dependentReads = [
  'expectations',
  'clusters',
  'nodePools',
  'networks',
  'bastions',
  'needs',
  'inUse',
  'sites',
  'workloads',
  'services',
] as const satisfies readonly (keyof Plan)[];

/** For every entity that decides something on the way of an expectation or a need, what rests on it. */
export function dependentsOf(
  plan: QuestionNames & Pick<Plan, 'expectations'>,
  forwarding: Forwarding,
): ReadonlyMap<string, Dependents> {
  const found = new Map<string, Gathered>();
  const at = (id: string): Gathered => {
    const known = found.get(id) ?? { expectations: new Map(), needs: new Map() };
    found.set(id, known);
    return known;
  };
  for (const { id, name, from, to, bytes } of plan.expectations) {
    const question = readPacketQuestion(plan, from, to, bytes);
    if (!question.ok) continue;
    const answer = trace(forwarding, question.value);
    for (const each of passedBy(answer)) at(each).expectations.set(id, { id, name, verdict: answer.verdict });
  }
  for (const cluster of plan.clusters.slice(0, MAX_FOLLOWED)) {
    for (const need of needsOf(plan, cluster)) {
      for (const kind of ['node', 'pod'] as const) {
        const answer = trace(forwarding, {
          from: { kind, clusterId: cluster.id, nodePoolId: null, zone: '' },
          to: { kind: 'need', needId: need.id },
          bytes: USUAL_BYTES,
        });
        for (const each of passedBy(answer)) {
          const known = at(each).needs.get(need.id) ?? { name: need.name, clusters: new Set<string>() };
          at(each).needs.set(need.id, known);
          known.clusters.add(cluster.name);
        }
      }
    }
  }
  return new Map(
    [...found].map(([id, { expectations, needs }]) => [
      id,
      {
        expectations: [...expectations.values()],
        needs: [...needs].map(([needId, { name, clusters }]) => ({ id: needId, name, clusters: [...clusters] })),
      },
    ]),
  );
}

interface Gathered {
  readonly expectations: Map<string, Dependents['expectations'][number]>;
  readonly needs: Map<string, { readonly name: string; readonly clusters: Set<string> }>;
}

/** Every entity that the steps of an answer name as having decided. */
function passedBy({ flows }: Trace): Set<string> {
  const ids = new Set<string>();
  for (const { forth, back } of flows)
    for (const event of [...forth, ...back]) {
      const subject = subjectOf(event);
      const lookUp = lookUpOf(event);
      if (subject !== undefined) ids.add(subject.id);
      if (lookUp?.tableId !== undefined) ids.add(lookUp.tableId);
      for (const { list, ruleId } of decisionsOf(event)) {
        ids.add(list.id);
        if (ruleId !== undefined) ids.add(ruleId);
      }
    }
  return ids;
}
