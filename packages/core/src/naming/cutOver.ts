import { formatClientsOf } from '../english/index.js';
import type { CutOverStep } from '../english/index.js';
import { relativeTo } from '../zones/index.js';
import { byId, setOperation } from '../plan/index.js';
import type { Operation, Workload } from '../plan/index.js';
import type { NameState } from './nameState.js';
import { internetHost } from '../forwarding/index.js';
import { askerOf, resolve } from './resolve.js';
import type { Resolution } from './resolve.js';

/** How long a client keeps an answer beyond its resolver: not at all, a fixed time of its own, or for ever. */
type Habit = Workload['dnsCache'];

/** Seconds for which browsers and many runtimes keep an answer whatever its TTL says: common practice, about a minute. */
const BROWSER_SECONDS = 60;

/** A record that leads to what is replaced. */
interface Moving {
  readonly zoneId: string;
  readonly zoneName: string;
  readonly name: string;
  readonly type: string;
  readonly value: string;
  readonly ttl: number;
  /** By hand, or by which record controller; its TTL is then that of the record controller. */
  readonly recordId: string | undefined;
  readonly recordControllerId: string | undefined;
}

/** Clients of one kind, and how long they still go to the old address after the change. */
export interface Leaving {
  readonly who: string;
  readonly habit: Habit | 'a browser';
  readonly ttl: number;
  /** Seconds until the last of them has left; Infinity where they leave when they are started anew. */
  readonly until: number;
}

/** The replacement of an address or of a load balancer’s name: who still goes to the old one, until when, and what to do before. */
export interface CutOver {
  readonly moving: readonly Moving[];
  readonly clients: readonly Leaving[];
  /** Seconds until the last that leave by themselves have left. */
  readonly done: number;
  /** What to do, each at seconds before (negative) or after the change. */
  readonly steps: readonly { readonly at: number; readonly step: CutOverStep }[];
  /** Lowers the TTLs so that it is done within the aim. */
  readonly lowering: readonly Operation[];
}

/**
 * The share of clients that still go to the old address some seconds after the change: resolvers cached it at any time within its TTL before,
 * evenly spread, and drop it when that ends; a client that keeps answers by itself asks its resolver only so often. By derivation.
 */
export function shareLeft(after: number, ttl: number, habit: Leaving['habit']): number {
  const own = ownSeconds(habit);
  if (own === Infinity) return 1;
  const inResolver = (at: number) => (at <= 0 ? 1 : ttl === 0 ? 0 : Math.max(0, 1 - at / ttl));
  if (own === 0) return inResolver(after);
  // The mean over when the client asked last: any time from `own` seconds ago until now.
  const before = (at: number) => (at <= 0 ? at : ttl === 0 ? 0 : at >= ttl ? ttl / 2 : at - (at * at) / (2 * ttl));
  return (before(after) - before(after - own)) / own;
}

/** Seconds for which a client keeps an answer beyond its resolver. */
function ownSeconds(habit: Leaving['habit']): number {
  return { none: 0, TTL: 0, '30 s': 30, 'a browser': BROWSER_SECONDS, 'until restart': Infinity }[habit];
}

/** What the replacement of an address comes to, with the aim in seconds within which it is to be done. */
export function cutOver(state: NameState, address: string, aim: number): CutOver {
  const moving = movingTo(state, address);
  const clients = [...clientsOf(state, moving)].sort((a, b) => b.until - a.until);
  const leaving = clients.filter(({ until }) => Number.isFinite(until));
  const longest = Math.max(0, ...moving.map(({ ttl }) => ttl));
  const slack = Math.max(0, ...leaving.map(({ until, ttl }) => until - ttl));
  const target = Math.max(0, aim - slack);
  const high = moving.filter(({ ttl }) => ttl > target);
  const lowering = high.flatMap(({ recordId, recordControllerId }): Operation[] =>
    recordId !== undefined
      ? [setOperation('records', recordId, { ttl: target })]
      : recordControllerId !== undefined
        ? [setOperation('recordControllers', recordControllerId, { ttl: target })]
        : [],
  );
  const unknown = Math.max(0, ...moving.map(({ zoneId }) => negativeTtl(state, zoneId)));
  const stuck = clients.filter(({ until }) => !Number.isFinite(until)).map(({ who }) => who);
  const steps: { readonly at: number; readonly step: CutOverStep }[] = [
    ...(high.length === 0
      ? []
      : [
          {
            at: -longest,
            step: { do: 'lower', names: [...new Set(high.map(({ name }) => name))], ttl: target, before: longest },
          } as const,
        ]),
    ...(moving.length === 0 ? [] : [{ at: -unknown, step: { do: 'add', before: unknown } } as const]),
    { at: 0, step: { do: 'lead' } },
    ...(moving.length === 0 ? [] : [{ at: high.length === 0 ? longest + slack : aim, step: { do: 'left' } } as const]),
    ...(stuck.length === 0 ? [] : [{ at: 0, step: { do: 'restart', who: stuck } } as const]),
    ...(high.length === 0 ? [] : [{ at: aim, step: { do: 'raise' } } as const]),
  ];
  // Two operations of one record controller are one.
  const once = [...new Map(lowering.map((each) => [JSON.stringify(each), each])).values()];
  return {
    moving,
    clients,
    done: Math.max(0, ...leaving.map(({ until }) => until)),
    steps: steps.sort((a, b) => a.at - b.at),
    lowering: once,
  };
}

/** Seconds for which a zone lets others remember that a name does not exist. */
function negativeTtl(state: NameState, zoneId: string): number {
  const zone = byId(state.parts.zones, zoneId);
  return zone === undefined ? 0 : state.treeOf(zone).negativeTtl();
}

/** Every record that leads to an address, or to the name that a provider gave the load balancer that has it. */
function movingTo(state: NameState, address: string): Moving[] {
  const { parts } = state;
  const names = new Set(
    parts.balancers
      .filter((each) => each.address === address)
      .map(({ providerName }) => providerName)
      .filter((each) => each !== ''),
  );
  return parts.zones.flatMap((zone) => {
    const byHand = new Map(
      parts.records
        .filter(({ zoneId }) => zoneId === zone.id)
        .map((each) => [`${each.name} ${each.type} ${each.value}`, each.id]),
    );
    return state
      .treeOf(zone)
      .records()
      .filter(
        ({ type, value, target }) =>
          ((type === 'A' || type === 'AAAA') && value === address) || (type === 'CNAME' && names.has(target ?? '')),
      )
      .map(({ name, type, ttl, value }): Moving => {
        const kept = state.kept.find((each) => each.zone.id === zone.id && each.name === name && each.type === type);
        return {
          zoneId: zone.id,
          zoneName: zone.name,
          name,
          type,
          value,
          ttl,
          recordId: byHand.get(`${relativeTo(name, zone.apex)} ${type} ${value}`),
          recordControllerId: kept?.recordController.id,
        };
      });
  });
}

/** Whether a resolution came by one of the records that are moved; that record, which resolvers keep for as long as its TTL says. */
function metOn({ records }: Pick<Resolution, 'records'>, moving: readonly Moving[]): Moving | undefined {
  return moving.find((each) =>
    records.some(({ name, type, value }) => name === each.name && type === each.type && value === each.value),
  );
}

/** Everybody who comes to what is replaced: by its own name, by an alias of it, or by a forwarding rule. */
function* clientsOf(state: NameState, moving: readonly Moving[]): Generator<Leaving> {
  const { parts } = state;
  if (moving.length === 0) return;
  const client = askerOf(internetHost());
  for (const name of publicNames(state)) {
    const types = ['A', 'AAAA'] as const;
    const met = types
      .map((type) => metOn(resolve(state, client, `${name}.`, type), moving))
      .find((each) => each !== undefined);
    if (met === undefined) continue;
    const { ttl } = met;
    yield { who: formatClientsOf(name, false), habit: 'none', ttl, until: ttl };
    yield { who: formatClientsOf(name, true), habit: 'a browser', ttl, until: ttl + ownSeconds('a browser') };
  }
  for (const workload of parts.workloads) {
    const cluster = byId(parts.clusters, workload.clusterId);
    if (cluster === undefined) continue;
    const asker = {
      label: cluster.name,
      networkId: cluster.networkId,
      host: state.machineOf(cluster),
      pod: { cluster, namespace: workload.namespace },
    };
    const met = workload.callsTo.flatMap((name) => metOn(resolve(state, asker, name, 'A'), moving) ?? [])[0];
    if (met === undefined) continue;
    yield {
      who: `${workload.namespace}/${workload.name} of ${cluster.name}`,
      habit: workload.dnsCache,
      ttl: met.ttl,
      until: met.ttl + ownSeconds(workload.dnsCache),
    };
  }
}

/** The names of public zones that have addresses or aliases. */
function publicNames(state: NameState): string[] {
  const names = state.parts.zones
    .filter(({ side }) => side === 'public')
    .flatMap((zone) => state.treeOf(zone).records())
    .flatMap(({ name, type }) => (type === 'A' || type === 'AAAA' || type === 'CNAME' ? [name] : []));
  return [...new Set(names)].filter((name) => !name.startsWith('*.'));
}
