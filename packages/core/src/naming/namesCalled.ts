import { byId } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { section } from '../section/index.js';

/** Names that workloads call, in small letters and without a final dot, each once for every network where they are called. */
export type NamesCalled = readonly { readonly networkId: string; readonly name: string }[];

function calledIn({ clusters, workloads }: Pick<Plan, 'clusters' | 'workloads'>): NamesCalled {
  const seen = new Set<string>();
  return workloads.flatMap(({ clusterId, callsTo }) => {
    if (callsTo.length === 0) return [];
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
