import type { ConnectionNeeds, ConnectionSide, ConnectionRequest } from '@wide-lattice/core/crosscluster';
import { byId, readFieldChecked, rulesOf, tunnelNames } from '@wide-lattice/core/plan';
import type { Cluster, FieldRule, Member, Plan } from '@wide-lattice/core/plan';
import { useMemo, useState } from 'react';
import { usePlan } from '../plan/PlanContext';
import { searchNow, useSearchState } from '../shared/useSearchState';

/** What was typed of one cluster. */
export interface SideTexts {
  readonly dials: Member['dials'];
  readonly addresses: string;
}

/** What was typed, as it stands in the address: text, nothing checked. */
export interface WishTexts {
  readonly tunnel: ConnectionRequest['tunnel'];
  readonly isHub: boolean;
  /** The name of the hub; empty for the first cluster. */
  readonly hub: string;
  readonly gateways: string;
  readonly rendezvous: string;
  readonly exportsServices: boolean;
  readonly planned: string;
  readonly each: string;
  readonly anyProtocol: boolean;
  readonly sourceKept: boolean;
  /** By the cluster's name. */
  readonly sides: Readonly<Record<string, SideTexts>>;
}

const unsaid: WishTexts = {
  tunnel: 'wireguard',
  isHub: false,
  hub: '',
  gateways: '2',
  rendezvous: '',
  exportsServices: true,
  planned: '0',
  each: '1000',
  anyProtocol: false,
  sourceKept: false,
  sides: {},
};

/** Nothing said of a cluster. */
export const unsaidSide: SideTexts = { dials: 'either', addresses: '' };

/** What is asked of the choice: as typed, as read, and what cannot be read. */
interface ConnectionQuery {
  readonly chosen: readonly Cluster[];
  readonly texts: WishTexts;
  /** Takes what changes, or what it comes to from the texts as they are now. */
  readonly change: (part: Partial<WishTexts> | ((now: WishTexts) => Partial<WishTexts>)) => void;
  readonly asked: Omit<ConnectionRequest, 'method'>;
  readonly needs: ConnectionNeeds;
  readonly faults: readonly string[];
  readonly add: (clusterId: string) => void;
  readonly leaveOut: (name: string) => void;
}

/** The wish of the choice, kept in the address. */
export function useConnectionRequest(): ConnectionQuery {
  const { plan } = usePlan();
  const [search, set] = useSearchState();
  const join = search.get('join') ?? '';
  const named = useMemo(() => namesIn(join), [join]);
  const chosen = useMemo(() => plan.clusters.filter(({ name }) => named.includes(name)), [plan.clusters, named]);
  const [texts, setTexts] = useState(() => fromAddress(search.get('wish')));
  const [today] = useState(() => new Date().toISOString().slice(0, 10));
  const change = (part: Partial<WishTexts> | ((now: WishTexts) => Partial<WishTexts>)) => {
    const now = fromAddress(searchNow().get('wish'));
    const after = { ...now, ...(typeof part === 'function' ? part(now) : part) };
    setTexts(after);
    set({ wish: inAddress(after) });
  };
  const choose = (made: (names: readonly string[]) => readonly string[]) =>
    set({ join: made(namesIn(searchNow().get('join') ?? '')).join(','), method: '' });
  const { asked, needs, faults } = read(plan, chosen, texts, today);
  return {
    chosen,
    texts,
    change,
    asked,
    needs,
    faults,
    add: (id: string) => choose((names) => [...names, byId(plan.clusters, id)?.name ?? '']),
    leaveOut: (name: string) => choose((names) => names.filter((one) => one !== name)),
  };
}

const namesIn = (text: string) => text.split(',').filter((name) => name !== '');

/** Only what is not as usual, so that addresses stay short. */
function inAddress(texts: WishTexts): string {
  const said = Object.entries(texts).filter(
    ([name, value]) => JSON.stringify(value) !== JSON.stringify(unsaid[name as keyof WishTexts]),
  );
  return said.length === 0 ? '' : JSON.stringify(Object.fromEntries(said));
}

/** What an address says, each part only where it is of the kind that it must be. */
function fromAddress(text: string | null): WishTexts {
  const said = record(parsed(text ?? ''));
  const plain = Object.entries(unsaid).map(([name, usual]: [string, unknown]): [string, unknown] => {
    const value = said[name];
    return [name, typeof usual === typeof value && typeof usual !== 'object' ? value : usual];
  });
  const sides = Object.entries(record(said['sides'])).map(([name, side]) => {
    const { dials, addresses } = record(side);
    const isDialling = dials === 'dials' || dials === 'is dialled';
    return [
      name,
      { dials: isDialling ? dials : unsaidSide.dials, addresses: typeof addresses === 'string' ? addresses : '' },
    ];
  });
  const read = {
    ...(Object.fromEntries(plain) as unknown as WishTexts),
    sides: Object.fromEntries(sides) as WishTexts['sides'],
  };
  return tunnelNames.includes(read.tunnel) ? read : { ...read, tunnel: unsaid.tunnel };
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}

function record(value: unknown): Record<string, unknown> {
  return typeof value === 'object' && value !== null ? (value as Record<string, unknown>) : {};
}

function read(plan: Plan, chosen: readonly Cluster[], texts: WishTexts, today: string) {
  const gateways = whole(texts.gateways, 1, 16);
  const plannedMbps = whole(texts.planned, 0, 1_000_000);
  const gatewayMbps = whole(texts.each, 1, 1_000_000);
  const sides = chosen.map((cluster) => readSide(plan, cluster, texts, gateways ?? 16));
  const faults = [
    ...(gateways === undefined ? [`“${texts.gateways}” is out of range: enter 1 to 16 gateways.`] : []),
    ...(plannedMbps === undefined || gatewayMbps === undefined
      ? [
          `Traffic is a whole number of Mbit/s, up to 1,000,000${gatewayMbps === undefined ? ', at least 1 for a gateway' : ''}.`,
        ]
      : []),
    ...sides.flatMap(({ fault }) => fault),
  ];
  const asked: Omit<ConnectionRequest, 'method'> = {
    name: freeName(
      plan.connections,
      chosen.map(({ name }) => name),
    ),
    clusterIds: chosen.map(({ id }) => id),
    tunnel: texts.tunnel,
    shape: texts.isHub ? 'hub' : 'full mesh',
    sides: sides.map(({ side }) => side),
    gateways: gateways ?? 2,
    rendezvous: texts.rendezvous.trim(),
    today,
    exportsServices: texts.exportsServices,
  };
  const needs: ConnectionNeeds = {
    plannedMbps: plannedMbps ?? 0,
    gatewayMbps: gatewayMbps ?? 1000,
    anyProtocol: texts.anyProtocol,
    sourceKept: texts.sourceKept,
  };
  return { asked, needs, faults };
}

function readSide(
  plan: Plan,
  { id: clusterId, name }: Cluster,
  texts: WishTexts,
  most: number,
): { readonly side: ConnectionSide; readonly fault: readonly string[] } {
  const { dials, addresses } = texts.sides[name] ?? unsaidSide;
  const given = readFieldChecked(plan, rulesOf('members')['gatewayAddresses'] as FieldRule, addresses);
  const gatewayAddresses = given.ok ? (given.value as readonly string[]) : [];
  const tooMany = gatewayAddresses.length > most;
  return {
    side: {
      clusterId,
      isHub: texts.isHub && texts.hub === name,
      dials,
      gatewayAddresses: tooMany ? [] : gatewayAddresses,
    },
    fault: given.ok
      ? tooMany
        ? [
            `Gateway addresses of ${name}: ${gatewayAddresses.length} are named for ${most}. Name one for each gateway at most.`,
          ]
        : []
      : [`Gateway addresses of ${name}: ${given.problem.message} ${given.problem.fix}`.trim()],
  };
}

function whole(text: string, least: number, most: number): number | undefined {
  const value = Number(text.replace(/,/g, ''));
  return text.trim() !== '' && Number.isInteger(value) && value >= least && value <= most ? value : undefined;
}

/** A name that no connection has yet. */
function freeName(connections: readonly { readonly name: string }[], clusters: readonly string[]): string {
  const base =
    clusters.length === 0
      ? 'connection'
      : clusters.length > 2
        ? `${clusters[0] ?? ''} and ${clusters.length - 1} others`
        : clusters.join(' and ');
  const taken = new Set(connections.map(({ name }) => name.toLowerCase()));
  let name = base.slice(0, 70);
  for (let n = 2; taken.has(name.toLowerCase()); n++) name = `${base.slice(0, 70)} ${n}`;
  return name;
}
