import { byId } from '@wide-lattice/core/plan';
import {
  advertisedPrefixes,
  comparePodNetworks,
  fullMeshSessions,
  reflectedSessions,
  wirePaths,
} from '@wide-lattice/core/podnetwork';
import { familiesOf, nodesToAddress, sizingOf } from '@wide-lattice/core/sizing';
import type { Evaluation } from '@wide-lattice/core/evaluation';
import type { ClusterFamily, PodMode } from '@wide-lattice/core/plan';
import type { Criterion, FamilyComparison } from '@wide-lattice/core/podnetwork';
import type { Consequence } from '@wide-lattice/core/weighing';
import { shown } from './figures';
import type { ShownFigure } from './figures';

/** One consequence for each mode: a figure with its working, or words. */
export interface ConsequenceRow {
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

/** The three modes in one address family. */
export interface ShownFamily {
  readonly family: ClusterFamily;
  readonly winner: PodMode | undefined;
  readonly modes: readonly ShownMode[];
  readonly rows: readonly ConsequenceRow[];
}

/** A way of a cluster's packets. */
interface ShownPath {
  readonly to: string;
  readonly by: string;
  readonly packet: ShownFigure;
  readonly segment: ShownFigure;
  readonly efficiency: ShownFigure;
  readonly isNarrowing: boolean;
  readonly isPlanned: boolean;
}

/** What would change the winner, and who would be it. */
export interface ShownSensitivity {
  readonly criterion: string;
  readonly turnsAt: number | undefined;
  readonly winner: string | undefined;
}

/** Everything the pod network of one cluster brings. */
export interface PodNetworkSheet {
  readonly clusterId: string;
  readonly clusterName: string;
  readonly present: PodMode;
  readonly isBuilt: boolean;
  readonly family: ClusterFamily;
  /** The modes in each family, the cluster's own among them. */
  readonly families: readonly ShownFamily[];
  readonly winner: PodMode | undefined;
  readonly sensitivities: readonly ShownSensitivity[];
  readonly paths: readonly ShownPath[];
  readonly sessions: readonly { readonly label: string; readonly figure: ShownFigure }[];
}

const REFLECTORS = 2;

/** The comparison of one cluster; undefined when it is not in the plan. */
export function podNetworkSheet({ plan, domains }: Evaluation, clusterId: string): PodNetworkSheet | undefined {
  const cluster = byId(plan.clusters, clusterId);
  const compared = comparePodNetworks(plan, clusterId);
  if (cluster === undefined || compared === undefined) return undefined;
  const nodes = nodesToAddress(sizingOf(plan, cluster)).value;
  const families = familiesOf(cluster).length;
  return {
    clusterId,
    clusterName: cluster.name,
    present: cluster.podMode,
    isBuilt: cluster.isBuilt,
    family: cluster.family,
    families: compared.families.map(shownFamily),
    winner: compared.winner,
    sensitivities: compared.sensitivities.map((each) => ({ ...each, winner: each.winner?.mode })),
    paths: wirePaths(plan, cluster, domains).map(({ packet, segment, efficiency, ...path }) => ({
      ...path,
      efficiency: shown(efficiency),
      packet: shown(packet),
      segment: shown(segment),
    })),
    sessions: [
      { label: 'every node with every other', figure: shown(fullMeshSessions(nodes)) },
      { label: `with ${REFLECTORS} route reflectors`, figure: shown(reflectedSessions(nodes, REFLECTORS)) },
      { label: 'prefixes advertised', figure: shown(advertisedPrefixes(nodes, families, false)) },
      { label: 'summed up on the way', figure: shown(advertisedPrefixes(nodes, families, true)) },
    ],
  };
}

function shownFamily({ family, modes, winner }: FamilyComparison): ShownFamily {
  return {
    family,
    winner,
    modes: modes.map(({ mode, excluded, score, scores }) => ({ mode, excluded, score: shown(score), scores })),
    rows: consequenceRows(modes),
  };
}

/** Consequences of several options side by side. */
export function consequenceRows(
  options: readonly { readonly consequences: readonly Consequence[] }[],
): ConsequenceRow[] {
  return (options[0]?.consequences ?? []).map(({ label }, i) => ({
    label,
    cells: options.map(({ consequences }): ConsequenceCell => {
      const found = consequences[i];
      if (found === undefined) return { kind: 'words', words: '', isGood: true };
      return 'figure' in found
        ? { kind: 'figure', figure: shown(found.figure) }
        : { kind: 'words', words: found.words, isGood: found.isGood };
    }),
  }));
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
