import { overlaps } from '../address/index.js';
import { domains } from '../domains/index.js';
import { byId } from '../plan/index.js';
import { section } from '../section/index.js';
import { chainOf, chainOfConnection } from './chain.js';
import type { ChainStep } from './chain.js';
import { connectionVerdicts } from './connectionVerdicts.js';
import { isHolding, isSharing } from './use.js';
import type { Use } from './use.js';
import { verdicts } from './verdictsSection.js';

/** What two ranges of a plan are to each other. */
export type PairVerdict =
  /** They share no address; one is the place that the other is in; both live in one subnet; or they share addresses and nobody reaches both. */
  | { readonly kind: 'apart' | 'held' | 'shared' | 'reuse' }
  /** One of the ids names no range of the plan. */
  | { readonly kind: 'unknown'; readonly id: string }
  | {
      readonly kind: 'conflict' | 'shadowed' | 'hidden';
      /** It only comes about by a link or connection that is planned. */
      readonly isPlanned: boolean;
      /** How it comes about, step by step. */
      readonly chain: readonly ChainStep[];
    };

/** The verdict of two ranges, by their ids: allocated ranges, ranges in use, subnets, address blocks, or "attachment id prefix". */
export const verdictOfPair = section({
  name: 'verdict of a pair',
  reads: ['networks', 'connections', 'clusters'],
  needs: { verdicts, domains, byConnections: connectionVerdicts },
  build:
    ({ networks, connections, clusters }, needed) =>
    (oneId: string, otherId: string): PairVerdict => {
      const one = needed.verdicts.find(oneId);
      const other = needed.verdicts.find(otherId);
      if (one === undefined || other === undefined) return { kind: 'unknown', id: one === undefined ? oneId : otherId };
      const verdict = needed.verdicts.verdictsOf(oneId).find(({ a, b }) => a.id === otherId || b.id === otherId);
      if (verdict !== undefined) {
        const name = (id: string) => byId(networks, id)?.name ?? '';
        const { kind, isPlanned } = verdict;
        return { kind, isPlanned, chain: chainOf(verdict, needed.domains, name) };
      }
      const joined = needed.byConnections.get(oneId)?.find(({ a, b }) => a.id === otherId || b.id === otherId);
      if (joined !== undefined) {
        const connection = byId(connections, joined.connectionId)?.name ?? '';
        const nameOf = ({ clusterId }: Use) => byId(clusters, clusterId ?? '')?.name ?? '';
        return { kind: 'conflict', isPlanned: joined.isPlanned, chain: chainOfConnection(joined, connection, nameOf) };
      }
      if (!overlaps(one.prefix, other.prefix)) return { kind: 'apart' };
      if (isSharing(one, other)) return { kind: 'shared' };
      return { kind: isHolding(one, other) || isHolding(other, one) ? 'held' : 'reuse' };
    },
});
