import { formatAddress } from '@wide-lattice/core/address';
import { gatewayIn } from '@wide-lattice/core/allocation';
import { matrix, matrixColumns } from '@wide-lattice/core/reach';
import { byId, rangeOf } from '@wide-lattice/core/plan';
import { countsToHold } from '@wide-lattice/core/sizing';
import type { Evaluation } from '@wide-lattice/core/evaluation';
import { forwarding } from '@wide-lattice/core/forwarding';
import type { MatrixCell } from '@wide-lattice/core/reach';
import { askedOf, shownRow } from './question';
import type { QuestionContext, ShownRow } from './question';
import type { RouteRow } from '@wide-lattice/core/road';

/** Every row of a route table, typed and derived, with what the provider allows. */
export interface ShownTable {
  readonly name: string;
  readonly rows: readonly ShownRow[];
  readonly count: number;
  readonly most: number | undefined;
}

const MAX_ROWS = 500;

/** The rows of a table; undefined when it is not in the plan. */
export function shownTable(evaluation: Evaluation, tableId: string): ShownTable | undefined {
  const { plan, forwarding: all } = askedOf(evaluation);
  const table = byId(plan.routeTables, tableId);
  if (table === undefined) return undefined;
  const rows = all.routes.rowsOf(table.networkId, table);
  const { clusters, subnets } = all.space(table.networkId).parts;
  const site = byId(plan.sites, clusters[0]?.cluster.siteId ?? subnets[0]?.siteId ?? '');
  const typed = rows.filter(({ origin }) => origin === 'static');
  const derived = rows.filter(({ origin }) => origin !== 'static');
  return {
    name: table.name,
    rows: [...typed, ...derived].slice(0, MAX_ROWS).map((row) => shownRow(plan, row)),
    count: rows.reduce((sum, row) => sum + routesOf(evaluation, row), 0),
    most: byId(plan.profiles, site?.profileId ?? '')?.routesPerTable,
  };
}

/** Routes that a row stands for: one per node at the horizon for routed pods. */
function routesOf(evaluation: Evaluation, { hop }: RouteRow): number {
  const sizing = hop.kind === 'pods' ? evaluation.clusterOf(hop.clusterId)?.sizing : undefined;
  return sizing === undefined ? 1 : countsToHold(sizing).nodes.reduce((sum, nodes) => sum + nodes, 0);
}

/** One cluster of the matrix. */
export interface ShownMatrixRow {
  readonly id: string;
  readonly name: string;
  readonly site: string;
  readonly cells: readonly (MatrixCell | undefined)[];
}

/** Some rows of the matrix, and how many there are in all. */
export interface ShownMatrix {
  readonly labels: readonly string[];
  readonly rows: readonly ShownMatrixRow[];
  readonly all: number;
}

/** The matrix of some clusters, counted from 0: a part at a time, so that nobody waits for all of them. */
export function matrixPart(evaluation: Evaluation, first: number, count: number): ShownMatrix {
  const { plan } = evaluation;
  const maker = evaluation.ask(matrix);
  const columns = matrixColumns(evaluation.ask(forwarding).parts);
  return {
    labels: columns.map(({ label }) => label),
    rows: plan.clusters.slice(first, first + count).map((cluster) => ({
      id: cluster.id,
      name: cluster.name,
      site: byId(plan.sites, cluster.siteId)?.name ?? '',
      cells: maker.row(cluster, columns),
    })),
    all: plan.clusters.length,
  };
}

/** Addresses that a cluster's machines are told: gateways of their subnets, name servers and time servers of their network. */
export function knownAddresses(
  { plan, forwarding: all }: QuestionContext,
  clusterId: string,
): { readonly what: string; readonly addresses: readonly string[] }[] {
  const cluster = byId(plan.clusters, clusterId);
  const network = byId(plan.networks, cluster?.networkId ?? '');
  if (cluster === undefined || network === undefined) return [];
  const gateways = all
    .rangesOf(clusterId)
    .filter(({ purpose }) => purpose === 'node')
    .map((range) => formatAddress(gatewayIn(plan.subnets, cluster.networkId, rangeOf(range))));
  return [
    { what: gateways.length === 1 ? 'Gateway' : 'Gateways', addresses: gateways },
    { what: 'Name servers', addresses: network.nameServers },
    { what: 'Time servers', addresses: network.timeServers },
  ].filter(({ addresses }) => addresses.length > 0);
}
