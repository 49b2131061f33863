import type { FindingCode } from '@wide-lattice/core/english';
import { isReached, setMatrix } from '@wide-lattice/core/crosscluster';
import { marksOfCluster } from '@wide-lattice/core/findings';
import { entryPointCounts, entryPoints, ingress } from '@wide-lattice/core/ingress';
import type { EntryPointCount } from '@wide-lattice/core/ingress';
import { nameCounts, naming } from '@wide-lattice/core/naming';
import type { NameCount } from '@wide-lattice/core/naming';
import { purposes } from '@wide-lattice/core/plan';
import { worstVerdict } from '@wide-lattice/core/verdicts';
import type { Evaluation } from '@wide-lattice/core/evaluation';
import type { Cluster, Purpose } from '@wide-lattice/core/plan';
import type { VerdictState } from '@wide-lattice/core/verdicts';
import { countFindings } from './findingSlices';
import type { FindingCounts } from './findingSlices';

/** One cluster on the board: a figure, a fill and a mark for each strand. */
export interface BoardRow {
  readonly id: string;
  readonly name: string;
  readonly site: string;
  readonly network: string;
  readonly podMode: Cluster['podMode'];
  readonly family: Cluster['family'];
  readonly isBuilt: boolean;
  readonly nodesNow: number;
  readonly nodesHorizon: number;
  readonly ranges: Readonly<Record<Purpose, RangeCell>>;
  /** The tightest limit; undefined while no range is allocated. */
  readonly first: { readonly name: string; readonly nodes: number; readonly month: number } | undefined;
  /** Hosts of its routes whose chain goes through to pods, of all; undefined where it has none. */
  readonly entryPoints: EntryPointCount | undefined;
  /** Names that its clients find, of all that they are to; undefined where it has none, or the plan holds no zones. */
  readonly names: NameCount | undefined;
  /** Services of other clusters that it reaches, of all that are open to it; undefined where it is joined with none. */
  readonly uses: { readonly reached: number; readonly all: number } | undefined;
  readonly findings: FindingCounts;
  /** Codes of its findings, each once. */
  readonly codes: readonly FindingCode[];
}

/** The ranges of one purpose: what is there, what is missing, and whether all is well. */
export interface RangeCell {
  readonly prefixes: readonly string[];
  readonly missing: number;
  readonly tooSmall: number;
  readonly verdict: VerdictState;
}

/** Every cluster as a row of the board. */
export function boardRows(evaluation: Evaluation): BoardRow[] {
  const marksOf = evaluation.ask(marksOfCluster);
  const entryPointsBy = entryPointCounts(evaluation.ask(ingress), evaluation.ask(entryPoints));
  const names = evaluation.plan.zones.length === 0 ? undefined : nameCounts(evaluation.ask(naming));
  const uses = countUses(evaluation);
  return evaluation.clusters.map(({ cluster, site, network, figures, allocations, sizing }) => {
    const cell = (purpose: Purpose): RangeCell => {
      const own = allocations.filter((allocation) => allocation.purpose === purpose);
      const verdicts = own.flatMap((allocation) => evaluation.verdictsOf(allocation.id));
      const needs = figures.needs.filter(({ need }) => need.purpose === purpose);
      return {
        prefixes: own.map((allocation) => allocation.prefix),
        missing: needs.filter(({ ranges }) => ranges.length === 0).length,
        tooSmall: needs.filter(({ isLargeEnough }) => !isLargeEnough).length,
        verdict: worstVerdict(verdicts),
      };
    };
    const first = figures.nearestLimit;
    const { id, name, podMode, family, isBuilt } = cluster;
    const { nodesNow, nodesHorizon } = sizing.growth;
    const marks = marksOf(id);
    return {
      id,
      name,
      site: site.name,
      network: network.name,
      podMode,
      family,
      isBuilt,
      nodesNow,
      nodesHorizon,
      ranges: Object.fromEntries(purposes.map((purpose) => [purpose, cell(purpose)])) as Record<Purpose, RangeCell>,
      first: first === undefined ? undefined : { name: first.name, nodes: first.nodes.value, month: first.month.value },
      entryPoints: entryPointsBy.get(id),
      names: names?.get(id),
      uses: uses.get(id),
      findings: countFindings(marks),
      codes: [...new Set(marks.map(({ code }) => code))],
    };
  });
}

/** What each cluster that is joined with others reaches of what they export; its own exports are no uses. */
function countUses(evaluation: Evaluation): ReadonlyMap<string, { readonly reached: number; readonly all: number }> {
  if (evaluation.plan.connections.length === 0) return new Map();
  const { rows, columns } = evaluation.ask(setMatrix);
  return new Map(
    rows.flatMap(({ id, name }, at) => {
      const cells = columns.flatMap(({ cells: all }) => all[at] ?? []);
      const open = cells.filter(
        ({ verdict, from }) => verdict !== 'closed' && !(from.length === 1 && from[0] === name),
      );
      return open.length === 0
        ? []
        : [[id, { reached: open.filter((cell) => isReached(cell)).length, all: open.length }]];
    }),
  );
}
