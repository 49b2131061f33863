import { hubAndSpoke, proposeEgress } from '@wide-lattice/core/egress';
import { expectationStates } from '@wide-lattice/core/findings';
import type { HubRequest } from '@wide-lattice/core/egress';
import { compareMatrices, dependents } from '@wide-lattice/core/reach';
import { forwarding, waysOut } from '@wide-lattice/core/forwarding';
import type { AskingStop, Plan } from '@wide-lattice/core/plan';
import type { SliceHost } from '../sliceHost';
import { knownAddresses, matrixPart, shownTable } from './egress';
import { mattersAt } from './matters';
import { askedOf, placeWords, shownMends, shownTrace } from './question';

/** Questions, the matrix, tables with their derived rows, and whether expectations are kept. */
export const egressSlices = {
  trace: ({ evaluation }: SliceHost, from: string, to: string, bytes: number, lost: string) =>
    shownTrace(askedOf(evaluation), from, to, bytes, lost),
  mends: ({ evaluation }: SliceHost, from: string, to: string, bytes: number) =>
    shownMends(askedOf(evaluation), from, to, bytes),
  matrix: ({ evaluation }: SliceHost, first: number, count: number) => matrixPart(evaluation, first, count),
  routeTable: ({ evaluation }: SliceHost, tableId: string) => shownTable(evaluation, tableId),
  places: ({ evaluation }: SliceHost) => placeWords(askedOf(evaluation)),
  expectations: ({ evaluation }: SliceHost) => evaluation.ask(expectationStates),
  /** By what the networks reach the internet and what their clusters need. */
  waysOut: ({ evaluation }: SliceHost) => waysOut(evaluation.ask(forwarding)),
  /** What a stop opens on. */
  matters: (host: SliceHost, stop: AskingStop) => mattersAt(host, stop),
  /** What follows from the intents and is not there yet, with filters for the clusters named. */
  egressProposal: ({ plan }: SliceHost, clusterIds: readonly string[]) => proposeEgress(plan, clusterIds),
  hubProposal: ({ plan }: SliceHost, request: HubRequest) => hubAndSpoke(plan, request),
  knownAddresses: ({ evaluation }: SliceHost, clusterId: string) => knownAddresses(askedOf(evaluation), clusterId),
  /** What rests on a row of a sheet; undefined when nothing does. */
  dependentsOf: ({ evaluation }: SliceHost, id: string) => evaluation.ask(dependents).get(id),
  /** Cells of the matrix that pass more or less in another state of the plan. */
  compareReach: (host: SliceHost, before: Plan | undefined, after: Plan | undefined) =>
    compareMatrices(askedOf(host.at(before)).forwarding, askedOf(host.at(after)).forwarding),
};
