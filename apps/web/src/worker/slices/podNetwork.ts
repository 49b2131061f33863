import {
  byId,
  comparePodNetworks,
  fullMeshSessions,
  nodesToAddress,
  reflectedSessions,
  surgeOf,
  wirePaths,
} from '@wide-lattice/core';
import type { Criterion, Evaluation, PodMode, Sensitivity } from '@wide-lattice/core';
import { shown } from './figures';
import type { ShownFigure } from './figures';

/** One consequence for each mode: a figure with its working, or words. */
interface ConsequenceRow {
  readonly label: string;
  readonly cells: readonly ConsequenceCell[];
}

/** A figure, or a fact in words and whether it is welcome. */
export type ConsequenceCell =
  | { readonly kind: 'figure'; readonly figure: ShownFigure }
  | { readonly kind: 'words'; readonly words: string; readonly isGood: boolean };

/** One mode as it stands for a cluster. */
interface ShownMode {
  readonly mode: PodMode;
  readonly excluded: readonly string[];
  readonly score: ShownFigure;
  readonly scores: Readonly<Record<Criterion, number>>;
}

/** A way of a cluster's packets. */
interface ShownPath {
  readonly to: string;
  readonly by: string;
  readonly packet: ShownFigure;
  readonly segment: ShownFigure;
  readonly isNarrowing: boolean;
  readonly isPlanned: boolean;
}

/** Everything the pod network of one cluster brings. */
export interface PodNetworkSheet {
  readonly clusterId: string;
  readonly clusterName: string;
  readonly present: PodMode;
  readonly isBuilt: boolean;
  readonly winner: PodMode | undefined;
  readonly modes: readonly ShownMode[];
  readonly rows: readonly ConsequenceRow[];
  readonly sensitivities: readonly Sensitivity[];
  readonly paths: readonly ShownPath[];
  readonly sessions: readonly { readonly label: string; readonly figure: ShownFigure }[];
}

const REFLECTORS = 2;

/** The comparison of one cluster; undefined when it is not in the plan. */
export function podNetworkSheet({ plan, domains }: Evaluation, clusterId: string): PodNetworkSheet | undefined {
  const cluster = byId(plan.clusters, clusterId);
  const compared = comparePodNetworks(plan, clusterId);
  if (cluster === undefined || compared === undefined) return undefined;
  const profile = byId(plan.profiles, byId(plan.sites, cluster.siteId)?.profileId ?? '');
  const nodes =
    profile === undefined
      ? cluster.nodesHorizon
      : nodesToAddress(cluster.nodesHorizon, surgeOf(cluster, profile)).value;
  const [first] = compared.modes;
  return {
    clusterId,
    clusterName: cluster.name,
    present: cluster.podMode,
    isBuilt: cluster.isBuilt,
    winner: compared.winner,
    modes: compared.modes.map(({ mode, excluded, score, scores }) => ({ mode, excluded, score: shown(score), scores })),
    rows: (first?.consequences ?? []).map(({ label }, i) => ({
      label,
      cells: compared.modes.map(({ consequences }): ConsequenceCell => {
        const found = consequences[i];
        if (found === undefined) return { kind: 'words', words: '', isGood: true };
        return 'figure' in found
          ? { kind: 'figure', figure: shown(found.figure) }
          : { kind: 'words', words: found.words, isGood: found.isGood };
      }),
    })),
    sensitivities: compared.sensitivities,
    paths: wirePaths(plan, cluster, domains).map(({ packet, segment, ...path }) => ({
      ...path,
      packet: shown(packet),
      segment: shown(segment),
    })),
    sessions: [
      { label: 'every node with every other', figure: shown(fullMeshSessions(nodes)) },
      { label: `with ${REFLECTORS} route reflectors`, figure: shown(reflectedSessions(nodes, REFLECTORS)) },
    ],
  };
}

/** A decision that cannot be taken back once the cluster runs. */
export interface LockedDecision {
  readonly id: string;
  readonly clusterId: string;
  readonly cluster: string;
  readonly decision: string;
  readonly value: string;
}

/** What is locked in each built cluster: to change it is to build it anew. Common practice. */
export function lockedDecisions({ clusters }: Evaluation): LockedDecision[] {
  return clusters
    .filter(({ cluster }) => cluster.isBuilt)
    .flatMap(({ cluster, network, site, allocations, figures }) => {
      const row = (decision: string, value: string): LockedDecision => ({
        id: `${cluster.id} ${decision}`,
        clusterId: cluster.id,
        cluster: cluster.name,
        decision,
        value,
      });
      return [
        row('Pod network', cluster.podMode),
        row('Address family', cluster.family),
        row('Site', site.name),
        row('Network', network.name),
        ...(cluster.podMode === 'native'
          ? []
          : figures.perNode.map(({ family, length }) => row(`Per-node prefix, IPv${family}`, `/${length.value}`))),
        ...allocations
          .filter(({ purpose }) => purpose === 'pod' || purpose === 'service')
          .map(({ purpose, zone, prefix }) =>
            row(
              `${purpose === 'pod' ? 'Pod' : 'Service'} range${zone === '' ? '' : `, zone ${zone}`} ${prefix.includes(':') ? 'IPv6' : ''}`.trim(),
              prefix,
            ),
          ),
      ];
    });
}
