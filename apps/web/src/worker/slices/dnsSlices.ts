import { formatCutOverStep } from '@wide-lattice/core/english';
import { demand } from '@wide-lattice/core/sizing';
import { byId } from '@wide-lattice/core/plan';
import {
  alikeIn,
  cutOver,
  differs,
  handOut,
  importZone,
  naming,
  proposeNames,
  queryLoad,
  sizeNow,
  rowOf,
  shareLeft,
  vantages as vantageTable,
  zoneText,
} from '@wide-lattice/core/naming';
import { readFullName } from '@wide-lattice/core/zones';
import type {
  CutOver,
  HandedOut,
  NameState,
  NameRow,
  NamesProposal,
  NamesWish,
  QueryLoad,
  ZoneImport,
} from '@wide-lattice/core/naming';
import type { Result } from '@wide-lattice/core/result';
import type { Steps } from '@wide-lattice/core/working';
import type { SliceHost } from '../sliceHost';

/** One name at every vantage, as it is shown. */
export interface ShownNameRow {
  readonly name: string;
  readonly differs: boolean;
  /** In the order of the vantages. */
  readonly answers: readonly { readonly text: string; readonly ttl: number; readonly isAnswer: boolean }[];
}

/** Names down, vantages across. */
export interface ShownVantages {
  /** Each with those that get the same answer for every name. */
  readonly vantages: readonly { readonly key: string; readonly label: string; readonly alike: readonly string[] }[];
  readonly rows: readonly ShownNameRow[];
}

/** A record that a record controller makes. */
export interface ShownKept {
  readonly name: string;
  readonly type: string;
  readonly value: string;
  readonly ttl: number;
  readonly zone: string;
  readonly recordController: string;
}

/** A cut-over with the share of clients that still go to the old address, over the time. */
export interface ShownCutOver extends Omit<CutOver, 'steps'> {
  readonly steps: readonly { readonly at: number; readonly description: string }[];
  readonly curves: readonly {
    readonly label: string;
    readonly points: readonly { readonly x: number; readonly y: number }[];
  }[];
  readonly last: number;
}

/** What reading a zone file comes to, with the first faults and how many there are. */
export interface ShownZoneImport extends ZoneImport {
  readonly faults: number;
}

/** Faults of a zone file that are shown at most. */
const MAX_FAULTS = 200;
/** Points of each curve. */
const POINTS = 120;
/** Clients drawn at most, those that stay longest. */
const MAX_CURVES = 5;

function drawn(state: NameState, address: string, aim: number): ShownCutOver {
  const found = cutOver(state, address, aim);
  const last = Math.max(60, found.done * 1.05);
  const curves = found.clients.slice(0, MAX_CURVES).map(({ who, ttl, habit }) => ({
    label: who,
    points: Array.from({ length: POINTS + 1 }, (_, i) => ({
      x: (last * i) / POINTS,
      y: 100 * shareLeft((last * i) / POINTS, ttl, habit),
    })),
  }));
  const steps = found.steps.map(({ at, step }) => ({ at, description: formatCutOverStep(step) }));
  return { ...found, curves, last, steps };
}

/** Names, who answers them where, and for how long. */
export const dnsSlices = {
  /** Recorded names at every vantage, and one more name where one is asked for. */
  *vantages({ evaluation }: SliceHost, extra: string): Steps<Result<ShownVantages>> {
    const table = yield* evaluation.inSteps(vantageTable);
    const state = evaluation.ask(naming);
    const rows = [...table.rows.values()];
    if (extra.trim() !== '') {
      const name = readFullName(extra.trim());
      if (!name.ok) return name;
      rows.unshift(rowOf(state, table.vantages, name.value));
    }
    // Vantages that get the same answer for every name are one column.
    const columns = alikeIn(rows, table.vantages);
    const vantages = columns.flatMap((column) => {
      const [first, ...alike] = column.flatMap((at) => table.vantages[at] ?? []);
      return first === undefined
        ? []
        : [{ key: first.key, label: first.label, alike: alike.map(({ label }) => label) }];
    });
    const shown = columns.map(([first = 0]) => first);
    return { ok: true, value: { vantages, rows: rows.map((row) => shownRow(row, shown)) } };
  },
  keptRecords: ({ evaluation }: SliceHost): readonly ShownKept[] =>
    evaluation.ask(naming).kept.map(({ name, type, value, ttl, zone, recordController }) => ({
      name,
      type,
      value,
      ttl,
      zone: zone.name,
      recordController: recordController.name,
    })),
  cutOver: ({ evaluation }: SliceHost, address: string, aim: number): ShownCutOver =>
    drawn(evaluation.ask(naming), address, aim),
  queryLoad: ({ evaluation, plan }: SliceHost, clusterId: string): QueryLoad | undefined => {
    const cluster = byId(plan.clusters, clusterId);
    if (cluster === undefined) return undefined;
    const size = sizeNow(evaluation.ask(demand).of(clusterId) ?? { groups: [] });
    return queryLoad(evaluation.ask(naming), cluster, size);
  },
  namesProposal: ({ plan }: SliceHost, wish: NamesWish): NamesProposal => proposeNames(plan, wish),
  zoneText: ({ evaluation, plan }: SliceHost, zoneId: string): string => {
    const zone = byId(plan.zones, zoneId);
    return zone === undefined ? '' : zoneText(evaluation.ask(naming), zone);
  },
  zoneHandedOut: ({ evaluation, plan }: SliceHost, zoneId: string): HandedOut | undefined => {
    const zone = byId(plan.zones, zoneId);
    return zone === undefined
      ? undefined
      : handOut(evaluation.ask(naming), zone, new Date().toISOString().slice(0, 10));
  },
  zoneImport: ({ plan }: SliceHost, zoneId: string, text: string): ShownZoneImport | undefined => {
    const zone = byId(plan.zones, zoneId);
    if (zone === undefined || text.trim() === '') return undefined;
    const read = importZone(plan, zone, text);
    return { ...read, problems: read.problems.slice(0, MAX_FAULTS), faults: read.problems.length };
  },
};

/** One name as it is told at some vantages, by their places. */
function shownRow(row: NameRow, places: readonly number[]): ShownNameRow {
  return {
    name: row.name,
    differs: differs(row),
    answers: places.map((at) => {
      const { text = '', ttl = 0, outcome } = row.answers[at] ?? {};
      return { text, ttl, isAnswer: outcome === 'answer' };
    }),
  };
}
