import { byId } from '../plan/index.js';
import type { Plan, Workload } from '../plan/index.js';
import { once, section } from '../section/index.js';

/** Names that workloads call, in small letters and without a final dot, each once for every network where they are called. */
export type NamesCalled = readonly { readonly networkId: string; readonly name: string }[];

/** Workloads that call names. */
const callersIn = once((workloads: readonly Workload[]) => workloads.filter(({ callsTo }) => callsTo.length > 0));

function calledIn({ clusters, workloads }: Pick<Plan, 'clusters' | 'workloads'>): NamesCalled {
  const seen = new Set<string>();
  return callersIn(workloads).flatMap(({ clusterId, callsTo }) => {
    const networkId = byId(clusters, clusterId)?.networkId;
    return callsTo.flatMap((text) => {
      const name = text.toLowerCase().replace(/\.$/, '');
      const key = `${networkId ?? ''} ${name}`;
      if (networkId === undefined || seen.has(key)) return [];
      seen.add(key);
      return [{ networkId, name }];
    });
  });
}

/** The names that workloads call, the same object while they are the same. */
export const namesCalled = section({
  name: 'called names',
  reads: ['clusters', 'workloads'],
  needs: {},
  build: calledIn,
  follow: ({ value }, parts) => {
    const called = calledIn(parts);
    const isSame =
      called.length === value.length &&
      called.every(({ networkId, name }, at) => value[at]?.networkId === networkId && value[at].name === name);
    return isSame ? value : called;
  },
});
