import { containsAddress, formatAddress } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { byId, changedBetween, prefixList, rangeOf, USUAL_BYTES } from '../plan/index.js';
import type { Cluster, Target } from '../plan/index.js';
import { decisionsOf, HOST_PORTS, worstFirst } from '../road/index.js';
import type { Failed, Lack, Packet } from '../road/index.js';
import { Answers, meets, restsOn } from '../forwarding/index.js';
import type { Judged } from '../forwarding/index.js';
import { Distinct } from './distinct.js';
import { changedLists } from '../forwarding/index.js';
import { attachedTo } from '../forwarding/index.js';
import type { CompiledFilter } from '../forwarding/index.js';
import type { Forwarding } from '../forwarding/index.js';
import { nodeHost, podHost } from '../forwarding/index.js';
import type { Host } from '../forwarding/index.js';
import type { MatrixCell, MatrixColumn } from './matrix.js';
import { machinesInUse, machinesOfClusters, Targets } from './matrixTargets.js';
import type { Moved } from './matrixTargets.js';
import { isNeedOf } from '../forwarding/index.js';
import { aimsOf, KUBELET_PORT, POD_PORT } from '../forwarding/index.js';
import type { Aim } from '../forwarding/index.js';
import { traceFlow } from '../forwarding/index.js';

/** A place that a cell is asked from, and what tells it from others for forwarding. */
interface Source {
  readonly host: Host;
  readonly words: string;
  /** The number it shares with sources that are like it. */
  readonly number: number;
}

/** A range of a cluster that its nodes take for their own; those of services and overlay pods never let anything out. */
interface OwnRange {
  readonly prefix: Prefix;
  readonly name: string;
  readonly purpose: string;
  readonly allocationId: string;
  readonly isHiding: boolean;
}

/** A cell, and of one about many targets the one that it tells of. */
interface Made {
  readonly cell: MatrixCell | undefined;
  readonly told?: Host | undefined;
  /** The filters and firewalls that it rests on there. */
  readonly lists?: readonly string[];
}

interface Row {
  readonly cluster: Cluster;
  readonly columns: readonly MatrixColumn[];
  readonly sources: readonly Source[];
  readonly own: readonly OwnRange[];
  readonly cells: readonly (MatrixCell | undefined)[];
  readonly made: readonly Made[];
  /** The filters and firewalls that decide about the columns of one target, and about targets in the cluster's own ranges. */
  readonly lists: ReadonlySet<string>;
}

/** What one source reaches of many targets. */
interface Sum {
  readonly passes: number;
  /** How many of those that pass lie in a prefix; counted once for all clusters that hide the same range. */
  readonly passesWithin: Map<string, number>;
  /** Two groups that fail, since one of them may hold nothing but the asking cluster's own machine. */
  readonly failing: readonly { readonly judged: Judged; readonly hosts: readonly Host[] }[];
}

type Several = 'in use' | 'node' | 'pod';

/**
 * Answers of the matrix, cluster by cluster. Sources and targets that forwarding cannot tell apart (same network, tables, filters,
 * and the same rows and rules around their addresses) are asked once. After an edit of rules, the rows whose packets met none of
 * the edited lists are taken over.
 */
export class MatrixMaker {
  private told: Distinct | undefined;
  private readonly known = new Map<string, Judged>();
  private readonly answers = new Map<Several, Answers>();
  private readonly targets = new Map<Several, Targets>();
  private readonly moved = new Map<Several, readonly Moved[]>();
  private readonly rows = new Map<string, Row>();
  private readonly sums = new Map<string, Sum>();
  /** By the number of a source, whether it is answered by everything as in the state before. */
  private readonly settled: (boolean | undefined)[] = [];
  /** Rows of the state before whose columns of one target still hold. */
  private readonly held = new Map<string, Row>();
  private changed: ReadonlySet<string> = new Set();
  /** The machines that are in another group than in the state before. */
  private movedHosts: readonly Host[] = [];
  private met = new Set<string>();

  constructor(
    private readonly forwarding: Forwarding,
    before?: MatrixMaker,
  ) {
    const changed = before === undefined ? undefined : changedRules(before.forwarding, forwarding);
    if (before?.told === undefined || changed === undefined || !before.told.knows(changed.prefixes)) return;
    this.changed = changed.lists;
    this.told = new Distinct(forwarding, before.told);
    for (const [key, judged] of before.known) if (!restsOn(judged, changed.lists)) this.known.set(key, judged);
    for (const [kind, answers] of before.answers) this.answers.set(kind, new Answers(answers, changed.lists));
    for (const [kind, last] of before.targets) {
      const { targets, moved } = last.followed(changed.attached, this.told);
      this.targets.set(kind, targets);
      this.moved.set(kind, moved);
    }
    this.movedHosts = [...this.moved.values()].flatMap((moved) => moved.map(({ host }) => host));
    for (const [id, row] of before.rows)
      if (!changed.attached.has(id) && !meets(row.lists, changed.lists)) this.held.set(id, row);
  }

  /** The cells of one cluster. */
  row(cluster: Cluster, columns: readonly MatrixColumn[]): readonly (MatrixCell | undefined)[] {
    const known = this.rows.get(cluster.id);
    if (known?.cluster === cluster && isSameColumns(known.columns, columns)) return known.cells;
    const held = this.held.get(cluster.id);
    const last = held?.cluster === cluster && isSameColumns(held.columns, columns) ? held : undefined;
    this.met = new Set(last?.lists);
    const sources = last?.sources ?? this.sourcesOf(cluster);
    const own = last?.own ?? this.ownRanges(cluster);
    const hasMoved = this.movedHosts.some(({ address }) => own.some(({ prefix }) => containsAddress(prefix, address)));
    const isSettled = last !== undefined && !hasMoved && this.isSettled(askingOf(sources));
    if (isSettled && last.made.every((each) => this.stillSays(each))) {
      this.rows.set(cluster.id, last);
      return last.cells;
    }
    const made = columns.map((column, at) => {
      const kept = last?.made[at];
      const isKept =
        kept !== undefined && (severalOf[column.kind] === undefined || (isSettled && this.stillSays(kept)));
      return isKept ? kept : this.cell(cluster, sources, own, column);
    });
    const row: Row = { cluster, columns, sources, own, made, cells: made.map(({ cell }) => cell), lists: this.met };
    this.rows.set(cluster.id, row);
    return row.cells;
  }

  /** Whether the target that a cell tells of is in its group still, and the rules it rests on are the same. */
  private stillSays({ told, lists }: Made): boolean {
    return (
      (told === undefined || !this.movedHosts.includes(told)) &&
      (lists === undefined || !lists.some((id) => this.changed.has(id)))
    );
  }

  /** Whether a source is answered as in the state before by all targets, also by those that moved to another group. */
  private isSettled(source: Source | undefined): boolean {
    if (source === undefined) return true;
    return (this.settled[source.number] ??= Object.values(severalOf).every((several) =>
      this.isSettledOn(source, several),
    ));
  }

  private isSettledOn(source: Source, { kind, port }: SeveralTargets): boolean {
    const moved = this.moved.get(kind);
    const answers = this.answersOf(kind);
    const targets = this.targetsOf(kind);
    const from = source.number;
    return (
      answers.forgotten(from).every((group) => {
        const target = targets
          .group(group)
          ?.hosts.find(({ cluster }) => cluster === undefined || cluster !== source.host.cluster);
        if (target === undefined) return false;
        answers.add(group, from, this.askGroup(source, target, port));
        return answers.passes(group, from) === answers.passedBefore(group, from);
      }) &&
      moved?.every(({ host, from: last, to }) => {
        if (answers.of(to, from) === undefined)
          answers.add(to, from, this.movedTo(answers.of(last, from), host) ?? this.askGroup(source, host, port));
        return answers.passedBefore(last, from) === answers.passes(to, from);
      }) === true
    );
  }

  private get distinct(): Distinct {
    this.told ??= new Distinct(this.forwarding);
    return this.told;
  }

  private cell(cluster: Cluster, sources: readonly Source[], own: readonly OwnRange[], column: MatrixColumn): Made {
    const worst = (from: readonly Source[], target: Target, to: string) => ({
      cell: this.worst(from, target, to, cluster, own),
    });
    switch (column.kind) {
      case 'api':
        return worst(
          sources.filter(({ host }) => host.kind === 'node'),
          { kind: 'api', clusterId: cluster.id },
          `api of ${cluster.name}`,
        );
      case 'internet':
        return worst(sources, { kind: 'internet', service: { protocol: 'tcp', port: 443 } }, 'the internet tcp 443');
      case 'need':
        if (!isNeedOf(column.need, cluster)) return { cell: undefined };
        return worst(sources, { kind: 'need', needId: column.need.id }, `need ${column.need.name}`);
      case 'name servers':
      case 'time servers':
        return { cell: this.servers(cluster, sources, own, column.kind) };
      case 'in use':
      case 'nodes':
      case 'pods':
        return this.several(cluster, sources, own, severalOf[column.kind]);
    }
  }

  /** A pod and a node in each node subnet of the cluster: needs are felt by both, and tables and filters of subnets differ. */
  private sourcesOf(cluster: Cluster): Source[] {
    const ranges = this.forwarding.rangesOf(cluster.id).filter(({ purpose }) => purpose === 'node');
    const family = cluster.family === 'ipv6' ? 6 : 4;
    const own = ranges.filter((range) => rangeOf(range).family === family);
    return own.flatMap(({ zone, turn }) =>
      (['node', 'pod'] as const).flatMap((kind): Source[] => {
        const part = { clusterId: cluster.id, nodePoolId: null, zone, turn };
        const host = kind === 'node' ? nodeHost(this.forwarding, part, family) : podHost(this.forwarding, part, family);
        if (!host.ok) return [];
        // Only an address says which of several subnets of a zone is meant; a pod's overlay address says nothing of its node.
        const words =
          turn === 1
            ? `${kind} of ${cluster.name}${zone === '' ? '' : `, zone ${zone}`}`
            : `${formatAddress(host.value.address)} in ${byId(this.forwarding.parts.networks, cluster.networkId)?.name ?? ''}`;
        return [{ host: host.value, words, number: this.distinct.numberOf(host.value, 'asking') }];
      }),
    );
  }

  private worst(
    sources: readonly Source[],
    target: Target,
    to: string,
    cluster: Cluster,
    own: readonly OwnRange[],
  ): MatrixCell {
    let found: { judged: Judged; from: string } | undefined;
    for (const { host, words, number } of sources) {
      const aims = aimsOf(this.forwarding, target, host);
      const judged = aims.ok
        ? this.judgeOne(`${number} ${insideKey(cluster, own, aims.value)} > ${to}`, () => this.ask(host, aims.value))
        : { verdict: 'unknown' as const, why: aims.lack, lists: [], refusing: [] };
      if (found === undefined || worstFirst.indexOf(judged.verdict) < worstFirst.indexOf(found.judged.verdict))
        found = { judged, from: words };
    }
    if (found === undefined) return withoutRanges(cluster, to);
    const { judged, from } = found;
    const { verdict, why } = judged;
    return { verdict, why, from, to, passes: verdict === 'pass' ? 1 : 0, of: 1 };
  }

  private ownRanges({ id, podMode }: Cluster): OwnRange[] {
    return this.forwarding
      .rangesOf(id)
      .filter(({ purpose }) => purpose === 'service' || purpose === 'pod')
      .map((range) => ({
        prefix: rangeOf(range),
        name: range.prefix,
        purpose: range.purpose,
        allocationId: range.id,
        isHiding: range.purpose === 'service' || podMode === 'overlay',
      }));
  }

  private ask(from: Host, aims: readonly Aim[]): Judged {
    let worst: Omit<Judged, 'lists'> = passing;
    const lists = new Set<string>();
    let arrival: Packet | undefined;
    for (const aim of aims) {
      const { verdict, failed, forth, back } = traceFlow(this.forwarding, from, aim, USUAL_BYTES);
      const last = forth.findLast((event) => decisionsOf(event).length > 0);
      if (last !== undefined && decisionsOf(last)[0]?.direction === 'in') arrival = last.packet;
      for (const event of [...forth, ...back]) for (const { list } of decisionsOf(event)) lists.add(list.id);
      if (worstFirst.indexOf(verdict) < worstFirst.indexOf(worst.verdict))
        worst = {
          verdict,
          why: failed,
          refusing: failed?.failure.code === 'filter' ? failed.failure.filterIds : [],
        };
    }
    return { ...worst, arrival, lists: [...lists] };
  }

  private servers(
    cluster: Cluster,
    sources: readonly Source[],
    own: readonly OwnRange[],
    kind: 'name servers' | 'time servers',
  ): MatrixCell | undefined {
    const network = this.forwarding.parts.networks.find(({ id }) => id === cluster.networkId);
    const addresses = kind === 'name servers' ? network?.nameServers : network?.timeServers;
    if (addresses === undefined || addresses.length === 0) return undefined;
    // DNS and NTP over UDP: RFC 1035 4.2, RFC 5905 7.
    const port = kind === 'name servers' ? 53 : 123;
    const cells = addresses.map((address) =>
      this.worst(
        sources,
        { kind: 'address', address, service: { protocol: 'udp', port } },
        `${address} udp ${port}`,
        cluster,
        own,
      ),
    );
    return cells.reduce((worst, cell) =>
      worstFirst.indexOf(cell.verdict) < worstFirst.indexOf(worst.verdict) ? cell : worst,
    );
  }

  /** From the first pod of a cluster to many targets, counted group by group. */
  private several(
    cluster: Cluster,
    sources: readonly Source[],
    ownRanges: readonly OwnRange[],
    { kind, port, wordsOf }: SeveralTargets,
  ): Made {
    const source = askingOf(sources);
    const targets = this.targetsOf(kind);
    const own = targets.ownOf(cluster.id);
    const of = targets.count - (own === undefined ? 0 : 1);
    const isOther = (host: Host) => host !== own?.host;
    const isShownElsewhere = (host: Host) =>
      source !== undefined && this.forwarding.addressFor(source.host, host) !== host.address;
    const example = first(targets.groups, ({ hosts }) => hosts.find(isOther));
    if (example === undefined) return { cell: undefined };
    if (source === undefined) return { cell: withoutRanges(cluster, wordsOf(example)) };
    const sum = this.sumOf(source, kind, port, targets, own?.host);
    const answers = this.answersOf(kind);
    const reaches = (number: number) => answers.passes(number, source.number);
    const isOwnReached = own !== undefined && reaches(own.group.number);
    let { passes } = sum;
    let failing = first(sum.failing, ({ judged, hosts }) => {
      const target = hosts.find(isOther);
      return target === undefined ? undefined : { judged, target };
    });
    // The cluster's own machine is among its group, and is not counted.
    if (isOwnReached) passes--;
    for (const range of ownRanges) {
      const { prefix, name, isHiding } = range;
      // What lies in a range of the cluster's own is hidden from it, whatever its group reaches.
      if (isHiding) {
        const within = targets.countsWithin(prefix, name);
        const passesWithin = passingWithin(sum, name, within, reaches);
        const hasOwn = own !== undefined && containsAddress(prefix, own.host.address);
        passes -= passesWithin - (hasOwn && isOwnReached ? 1 : 0);
        // Tunnels show other members under a translated address, which no own range hides.
        if (this.forwarding.crossings.hasTunnels(cluster.id)) {
          passes += targets
            .within(prefix)
            .filter(({ host, number }) => isOther(host) && isShownElsewhere(host) && reaches(number)).length;
        }
        failing ??= first(within, ({ hosts }) => {
          const target = hosts.find((host) => isOther(host) && !isShownElsewhere(host));
          return target === undefined ? undefined : { judged: hidden(cluster, range, source.host, target), target };
        });
        continue;
      }
      for (const { host, number } of targets.within(prefix)) {
        if (!isOther(host)) continue;
        const judged = this.judgeOne(`${source.number} ${cluster.id} > ${kind} ${number}`, () =>
          this.askHost(source.host, host, port),
        );
        if (reaches(number)) passes--;
        if (judged.verdict === 'pass') passes++;
        else failing ??= { judged, target: host };
      }
    }
    const failed = passes === of ? undefined : failing;
    const told = failed?.target ?? example;
    const { verdict, why, lists } = failed?.judged ?? passing;
    return { cell: { verdict, why, from: source.words, to: wordsOf(told), passes, of }, told, lists };
  }

  /** What a source reaches of all targets of a kind, group by group; asked once for all sources that are alike. */
  private sumOf(source: Source, kind: Several, port: number, targets: Targets, own: Host | undefined): Sum {
    const key = `${source.number} ${kind}`;
    const known = this.sums.get(key);
    if (known !== undefined) return known;
    const answers = this.answersOf(kind);
    let passes = 0;
    let isWhole = true;
    const failing: Sum['failing'][number][] = [];
    for (const { number, hosts } of targets.groups) {
      // Any of them that is not the asking cluster's own stands for all.
      const target = answers.of(number, source.number) === undefined ? hosts.find((host) => host !== own) : undefined;
      if (target !== undefined) answers.add(number, source.number, this.askGroup(source, target, port));
      const judged = answers.of(number, source.number);
      if (judged === undefined) isWhole = false;
      else if (judged.verdict === 'pass') passes += hosts.length;
      else if (failing.length < 2) failing.push({ judged, hosts });
    }
    const sum = { passes, failing, passesWithin: new Map<string, number>() };
    // Of a group that is the asking cluster alone nothing is known yet: clusters like it may ask.
    if (isWhole) this.sums.set(key, sum);
    return sum;
  }

  private answersOf(kind: Several): Answers {
    const known = this.answers.get(kind) ?? new Answers();
    this.answers.set(kind, known);
    return known;
  }

  /**
   * What the group of a target answers. It rests on no filter of either end by its name, since numbers tell what their rules are, and
   * change with them; but one that refuses is named in the answer, which is asked anew with its rules.
   */
  private askGroup({ host }: Source, target: Host, port: number): Judged {
    const judged = this.askHost(host, target, port);
    if (judged.lists.length === 0) return judged;
    // One that is at a subnet too may be asked there.
    const atEnds = this.forwarding
      .filtersAt(...host.attachable, ...target.attachable)
      .flatMap(({ filter }) => (filter.subnetIds.length === 0 ? [filter.id] : []));
    const isNamed = (id: string) => judged.refusing.includes(id) || !atEnds.includes(id);
    return { ...judged, lists: judged.lists.filter(isNamed) };
  }

  /**
   * What is answered by a target whose rules alone changed, as far as it can be told without asking: what never came to its door
   * still does not; what went through goes in, and its answers out, when its filters know connections and let it in.
   */
  private movedTo(before: Judged | undefined, target: Host): Judged | undefined {
    if (before === undefined) return undefined;
    const { arrival, verdict } = before;
    if (verdict !== 'pass') return arrival === undefined ? before : undefined;
    const attached = this.forwarding.filtersAt(...target.attachable);
    const isKnowing = attached.every(({ filter }) => filter.isStateful && filter.subnetIds.length === 0);
    if (arrival === undefined || !isKnowing) return undefined;
    const isAllowed = ({ filter, in: list }: CompiledFilter) =>
      list.decide(arrival, filter.defaultIn).action === 'allow';
    const allowing = attached.filter(({ filter }) => filter.mode === 'allow-only');
    const isIn =
      (allowing.length === 0 || allowing.some(isAllowed)) &&
      attached.every((each) => each.filter.mode === 'allow-only' || isAllowed(each));
    return isIn ? before : undefined;
  }

  private askHost(from: Host, target: Host, port: number): Judged {
    const { label } = target;
    return this.ask(from, [
      {
        address: this.forwarding.addressFor(from, target),
        protocol: 'tcp',
        port,
        host: target,
        isOutside: true,
        label,
      },
    ]);
  }

  private targetsOf(kind: Several): Targets {
    const known = this.targets.get(kind);
    if (known !== undefined) return known;
    const hosts = kind === 'in use' ? machinesInUse(this.forwarding) : machinesOfClusters(this.forwarding, kind);
    const targets = Targets.of(hosts, this.distinct);
    this.targets.set(kind, targets);
    return targets;
  }

  private judgeOne(key: string, ask: () => Judged): Judged {
    const judged = this.judge(key, ask);
    for (const list of judged.lists) this.met.add(list);
    return judged;
  }

  private judge(key: string, ask: () => Judged): Judged {
    const judged = this.known.get(key) ?? ask();
    this.known.set(key, judged);
    return judged;
  }
}

interface SeveralTargets {
  readonly kind: Several;
  readonly port: number;
  readonly wordsOf: (target: Host) => string;
}

type SeveralKind = 'in use' | 'nodes' | 'pods';

/** The columns that are about many targets, which are counted. */
const severalOf: Readonly<Record<SeveralKind, SeveralTargets> & Partial<Record<MatrixColumn['kind'], SeveralTargets>>> =
  {
    'in use': { kind: 'in use', port: 443, wordsOf: ({ label }) => `range ${label} tcp 443` },
    nodes: {
      kind: 'node',
      port: KUBELET_PORT,
      wordsOf: ({ cluster }) => `node of ${cluster?.name ?? ''} tcp ${KUBELET_PORT}`,
    },
    pods: { kind: 'pod', port: POD_PORT, wordsOf: ({ cluster }) => `pod of ${cluster?.name ?? ''} tcp ${POD_PORT}` },
  };

/** How many targets within a range a source would reach; counted once. */
function passingWithin(
  { passesWithin }: Sum,
  name: string,
  within: readonly { readonly number: number; readonly count: number }[],
  reaches: (number: number) => boolean,
): number {
  const known = passesWithin.get(name);
  if (known !== undefined) return known;
  const counted = within.reduce((passing, { number, count }) => passing + (reaches(number) ? count : 0), 0);
  passesWithin.set(name, counted);
  return counted;
}

function withoutRanges(cluster: Cluster, to: string): MatrixCell {
  return {
    verdict: 'unknown',
    why: withoutNodes(cluster),
    from: `node of ${cluster.name}`,
    to,
    passes: 0,
    of: 1,
  };
}

function withoutNodes({ id, family }: Cluster): Lack {
  return {
    code: 'host.no-range',
    clusterId: id,
    purpose: 'node',
    family: family === 'ipv6' ? 6 : 4,
    zone: '',
  };
}

interface ChangedRules {
  readonly lists: ReadonlySet<string>;
  /** What filters among them are attached to. */
  readonly attached: ReadonlySet<string>;
  readonly prefixes: readonly Prefix[];
}

/** The filters and firewalls whose rules differ between two states, and the prefixes those rules name; undefined when anything else differs. */
function changedRules(before: Forwarding, after: Forwarding): ChangedRules | undefined {
  const lists = changedLists(before, after);
  if (lists === undefined) return undefined;
  const filters = changedBetween(before.parts.filterRules, after.parts.filterRules);
  const firewalls = changedBetween(before.parts.firewallRules, after.parts.firewallRules);
  return {
    lists,
    attached: new Set(after.parts.filters.filter(({ id }) => lists.has(id)).flatMap(attachedTo)),
    prefixes: [
      ...filters.come.flatMap(({ peers, peerFilterIds }) => [
        ...prefixList(peers),
        ...peerFilterIds.flatMap((id) => after.membersOf(id)),
      ]),
      ...firewalls.come.flatMap(({ sources, destinations }) => prefixList([...sources, ...destinations])),
    ],
  };
}

/** The verdict of what a cluster's own range hides: it never leaves the nodes. */
function hidden({ id }: Cluster, { name, purpose, allocationId }: OwnRange, from: Host, target: Host): Judged {
  const why: Failed = {
    failure: { code: 'shadowed', clusterId: id, allocationId, purpose, prefix: name },
    spot: { kind: from.kind, name: from.label },
    packet: {
      source: from.address,
      destination: target.address,
      protocol: 'any',
      port: 0,
      clientPorts: HOST_PORTS,
      isAnswer: false,
    },
    tunnelOf: undefined,
  };
  return { verdict: 'broken', why, lists: [], refusing: [] };
}

const passing: Judged = { verdict: 'pass', why: undefined, lists: [], refusing: [] };

/** What lies in a range of the cluster's own is looked for inside it, so such targets are told apart by the cluster. */
function insideKey(cluster: Cluster, own: readonly OwnRange[], aims: readonly Aim[]): string {
  return aims.some(({ address }) => own.some(({ prefix }) => containsAddress(prefix, address))) ? cluster.id : '';
}

/** Where a cluster's cells about many targets are asked from. */
function askingOf(sources: readonly Source[]): Source | undefined {
  return sources.find(({ host }) => host.kind === 'pod') ?? sources[0];
}

/** The first of a list that something is found for. */
function first<T, R>(list: readonly T[], find: (each: T) => R | undefined): R | undefined {
  for (const each of list) {
    const found = find(each);
    if (found !== undefined) return found;
  }
  return undefined;
}

function isSameColumns(a: readonly MatrixColumn[], b: readonly MatrixColumn[]): boolean {
  if (a === b) return true;
  const nameOf = ({ kind, label }: MatrixColumn) => `${kind} ${label}`;
  return a.length === b.length && a.every((column, at) => nameOf(column) === nameOf(b[at] as MatrixColumn));
}
