import { isAnsweredBy } from '@wide-lattice/core/findings';
import type { FindingMark } from '@wide-lattice/core/findings';
import type { EntityOf, Kind } from '@wide-lattice/core/plan';
import type { KindView, SheetStop } from './kindView';
import { crossClusterViews } from './views/crossCluster';
import { demandViews } from './views/demand';
import { dnsViews } from './views/dns';
import { egressViews } from './views/egress';
import { groundViews } from './views/ground';
import { ingressViews } from './views/ingress';
import { podNetworkViews } from './views/podNetwork';
import { rangesViews } from './views/ranges';
import { rehearsalViews } from './views/rehearsal';

/** The view of every kind, in the order of their sheets. */
export const kindViews: { readonly [K in Kind]: KindView<K> } = {
  ...groundViews,
  ...demandViews,
  ...rangesViews,
  ...egressViews,
  ...ingressViews,
  ...dnsViews,
  ...crossClusterViews,
  ...podNetworkViews,
  ...rehearsalViews,
};

/** The kinds whose sheets are at a stop, in their order. */
export function kindsAt(stop: SheetStop): readonly Kind[] {
  // Every key of the record is a kind.
  return (Object.keys(kindViews) as Kind[]).filter((kind) => kindViews[kind].stop === stop);
}

const proposedAt = [
  ['egress', 'egress'],
  ['entryPoints', 'ingress'],
  ['names', 'dns'],
  ['connections', 'cross-cluster'],
] as const;

/**
 * The stop at which a finding is told and counted: that of the kind it is about. What is about a network or a cluster, which
 * all stops share, is told where the proposal that ends it is made.
 */
export function stopOf({ kind, code }: Pick<FindingMark, 'kind' | 'code'>): SheetStop | undefined {
  if (kind === 'networks' || kind === 'clusters') {
    const made = proposedAt.find(([proposing]) => isAnsweredBy(proposing, code));
    if (made !== undefined) return made[1];
  }
  return kind === undefined ? undefined : kindViews[kind].stop;
}

/** Where an entity of a kind is shown, below the plan's own address. */
export function linkTo<K extends Kind>(kind: K, entity: EntityOf[K]): string {
  return kindViews[kind].link(entity);
}
