import type { RecordType, Rr } from '../zones/index.js';
import { internetHost } from '../forwarding/index.js';
import { byId, groupBy } from '../plan/index.js';
import type { Network } from '../plan/index.js';
import { networkAsker } from './answers.js';
import { selfRunNames, wantedHosts } from './hosts.js';
import { fullName } from './nameState.js';
import type { NameState } from './nameState.js';
import { askerOf, codeOf, resolve } from './resolve.js';
import type { Asker, NameOutcome } from './resolve.js';
import { isTouched, touchedBy } from './touched.js';

/** A place from which names are asked, with all that ask alike. */
export interface Vantage {
  readonly key: string;
  readonly label: string;
  readonly asker: Asker;
  /** Those that share it have the same zones and rules around them: where nobody has to be reached, they get the same answers. */
  readonly around: string | undefined;
}

/** What one name comes to at one vantage. */
interface VantageAnswer {
  readonly outcome: NameOutcome;
  /** The addresses or values, or the code of what it ends with. */
  readonly text: string;
  readonly ttl: number;
}

/** One name at every vantage. */
export interface NameRow {
  readonly name: string;
  /** In the order of the vantages. */
  readonly answers: readonly VantageAnswer[];
  /** Names that were looked up on the way, at any vantage. */
  readonly asked: ReadonlySet<string>;
}

/** The vantages of a plan: the internet, each network with clusters or private zones, and clusters whose DNS asks in a way of its own. */
export function vantagesOf(state: NameState): Vantage[] {
  const { parts } = state;
  const used = new Set([
    ...parts.clusters.map(({ networkId }) => networkId),
    ...parts.zones.flatMap(({ networkIds }) => networkIds),
    ...parts.forwardingRules.flatMap(({ networkIds }) => networkIds),
    ...parts.resolvers.map(({ networkId }) => networkId),
    ...parts.subnets.map(({ networkId }) => networkId),
    ...parts.inUse.flatMap(({ networkId }) => networkId ?? []),
  ]);
  const networks = parts.networks.filter(({ id }) => used.has(id));
  const own = parts.clusters.filter(({ stubZones, dnsUpstream }) => stubZones.length + dnsUpstream.length > 0);
  return [
    { key: 'internet', label: 'internet', asker: askerOf(internetHost()), around: undefined },
    ...networks.map((network) => ({
      key: network.id,
      label: network.name,
      asker: networkAsker(state, network.id),
      around: around(state, network),
    })),
    ...own.map((cluster) => ({
      key: cluster.id,
      label: `pods of ${cluster.name}`,
      asker: {
        label: `a pod of ${cluster.name}`,
        networkId: cluster.networkId,
        host: state.machineOf(cluster),
        pod: { cluster, namespace: 'default' },
      },
      around: undefined,
    })),
  ];
}

/** What answers names in a network, by ids. */
function around(state: NameState, { id, nameServers }: Network): string {
  const { zoneIds, forwards } = state.viewOf(id);
  return [...nameServers, ...zoneIds.values(), ...forwards.map((rule) => rule.id)].join(' ');
}

/** Names that are recorded: hosts of services, routes and gateways, names of self-run clusters, and what records with addresses or aliases stand at. */
export function recordedNames(state: NameState): string[] {
  const { parts } = state;
  const hosts = wantedHosts(state).map(({ host }) => host);
  const selfRun = parts.clusters.flatMap((cluster) => selfRunNames(cluster)?.api ?? []);
  const held = parts.records.flatMap(({ zoneId, name, type }) => {
    const apex = byId(parts.zones, zoneId)?.apex ?? '';
    return type === 'A' || type === 'AAAA' || type === 'CNAME' ? [fullName(name, apex)] : [];
  });
  return [...new Set([...hosts, ...selfRun, ...held, ...state.kept.map(({ name }) => name)])]
    .filter((name) => !name.startsWith('*.'))
    .sort();
}

/** What a name comes to at each vantage. */
export function rowOf(state: NameState, vantages: readonly Vantage[], name: string, type: RecordType = 'A'): NameRow {
  const asked = new Set([name]);
  const known = new Map<string, VantageAnswer>();
  const answers = vantages.map(({ asker, around: place }): VantageAnswer => {
    const alike = place === undefined ? undefined : known.get(place);
    if (alike !== undefined) return alike;
    const { answer, isByWays } = answerAt(state, asker, name, type, asked);
    if (place !== undefined && !isByWays) known.set(place, answer);
    return answer;
  });
  return { name, answers, asked };
}

/** What one asker gets; names that were looked up on the way are noted. */
function answerAt(state: NameState, asker: Asker, name: string, type: RecordType, asked: Set<string>) {
  const first = resolve(state, asker, `${name}.`, type);
  // A name with addresses of IPv6 alone is answered, too.
  const other = type === 'A' && first.outcome === 'no data' ? resolve(state, asker, `${name}.`, 'AAAA') : undefined;
  const isOther = other?.outcome === 'answer';
  const { outcome, records, ttl, servers } = isOther ? other : first;
  for (const server of servers) asked.add(server);
  for (const { target } of records) if (target !== undefined) asked.add(target);
  const values = records
    .filter((each) => each.type === (isOther ? 'AAAA' : type))
    .map(({ value }) => value)
    .sort();
  const answer: VantageAnswer = { outcome, text: outcome === 'answer' ? values.join(', ') : codeOf[outcome], ttl };
  return { answer, isByWays: first.isByWays || other?.isByWays === true };
}

/** Whether vantages get different answers for a name. */
export function differs({ answers }: NameRow): boolean {
  return answers.some(({ text }) => text !== answers[0]?.text);
}

/** Vantages by their places, those that get the same answer for every name together, each group by its first. */
export function alikeIn(rows: readonly NameRow[], vantages: readonly Vantage[]): readonly (readonly number[])[] {
  let groups: readonly (readonly number[])[] = [vantages.map((_, at) => at)];
  // Each name splits those that it tells apart; most tell none.
  for (const { answers } of rows) {
    if (groups.every(([first, ...more]) => more.every((at) => answers[at]?.text === answers[first ?? 0]?.text)))
      continue;
    groups = groups.flatMap((group) => [...groupBy(group, (at) => answers[at]?.text ?? '').values()]);
  }
  return groups.filter((group) => group.length > 0).toSorted(([a = 0], [b = 0]) => a - b);
}

/** All recorded names at all vantages; after an edit of records only the names that it can change are asked again. */
export class VantageTable {
  private constructor(
    private readonly state: NameState,
    readonly vantages: readonly Vantage[],
    readonly rows: ReadonlyMap<string, NameRow>,
  ) {}

  static of(state: NameState): VantageTable {
    const vantages = vantagesOf(state);
    return new VantageTable(
      state,
      vantages,
      new Map(recordedNames(state).map((name) => [name, rowOf(state, vantages, name)])),
    );
  }

  /** The table of a later state, however many edits lie between the two. */
  after(state: NameState): VantageTable {
    const isSame = (Object.keys(state.parts) as (keyof typeof state.parts)[]).every(
      (part) => part === 'records' || state.parts[part] === this.state.parts[part],
    );
    if (!isSame || state.forwarding !== this.state.forwarding) return VantageTable.of(state);
    const edited = state.editsSince(this.state);
    const touching = touchedBy(this.state, state, edited);
    const askAnew = (name: string, { asked }: NameRow) =>
      isTouched(touching, name) || (asked.size > 1 && [...asked].some((each) => isTouched(touching, each)));
    const rows = new Map<string, NameRow>();
    for (const name of namesAfter(edited, state, this.rows)) {
      const known = this.rows.get(name);
      rows.set(name, known === undefined || askAnew(name, known) ? rowOf(state, this.vantages, name) : known);
    }
    return new VantageTable(state, this.vantages, rows);
  }
}

/** The recorded names after an edit: the same where each record that went has one that came at its name. */
function namesAfter(
  edited: ReturnType<NameState['editsSince']>,
  state: NameState,
  rows: ReadonlyMap<string, NameRow>,
): Iterable<string> {
  const isSame = [...edited.values()].every(({ gone, come }) => {
    const namesOf = (records: readonly Rr[]) =>
      [...new Set(records.filter(isRecorded).map(({ name }) => name))].sort().join();
    return namesOf(gone) === namesOf(come);
  });
  return isSame ? rows.keys() : recordedNames(state);
}

function isRecorded({ type }: Rr): boolean {
  return type === 'A' || type === 'AAAA' || type === 'CNAME';
}
