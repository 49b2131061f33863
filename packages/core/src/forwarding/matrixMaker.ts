import { containsAddress, formatAddress, formatPrefix } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { changedBetween, prefixList, rangeOf, USUAL_BYTES } from '../plan/index.js';
import type { Cluster, Target } from '../plan/index.js';
import { Distinct } from './distinct.js';
import { forwardingReads } from './forwarding.js';
import type { Forwarding } from './forwarding.js';
import { nodeHost, podHost } from './host.js';
import type { Host } from './host.js';
import type { MatrixCell, MatrixColumn } from './matrix.js';
import { machinesInUse, machinesOfClusters, Targets } from './matrixTargets.js';
import { isNeedOf } from './needsOf.js';
import { aimsOf, KUBELET_PORT, POD_PORT } from './resolve.js';
import type { Aim } from './resolve.js';
import type { Failure } from './step.js';
import { traceFlow } from './trace.js';
import type { TraceVerdict } from './trace.js';

/** A place that a cell is asked from, and what tells it from others for forwarding. */
interface Source {
  readonly host: Host;
  readonly words: string;
  readonly key: string;
}

interface Judged {
  readonly verdict: TraceVerdict;
  readonly code: Failure['code'] | undefined;
  readonly say: string;
  /** The filters and firewalls that were asked. */
  readonly lists: readonly string[];
}

interface Row {
  readonly cluster: Cluster;
  readonly columns: string;
  readonly sources: readonly Source[];
  readonly cells: readonly (MatrixCell | undefined)[];
  /** The filters and firewalls that decide about the columns of one target. */
  readonly lists: ReadonlySet<string>;
}

/** What one source reaches of many targets. */
interface Sum {
  readonly passes: number;
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
  private readonly targets = new Map<Several, Targets>();
  private readonly rows = new Map<string, Row>();
  private readonly sums = new Map<string, Sum>();
  /** Rows of the state before whose columns of one target still hold. */
  private readonly held = new Map<string, Row>();
  private met = new Set<string>();

  constructor(
    private readonly forwarding: Forwarding,
    before?: MatrixMaker,
  ) {
    const changed = before === undefined ? undefined : changedRules(before.forwarding, forwarding);
    if (before?.told === undefined || changed === undefined || !before.told.knows(changed.prefixes)) return;
    this.told = new Distinct(forwarding, before.told);
    for (const [key, judged] of before.known) if (!judged.lists.some((id) => changed.lists.has(id))) this.known.set(key, judged); // prettier-ignore
    for (const [id, row] of before.rows) {
      const own = forwarding.filtersAt(id).some(({ filter }) => changed.lists.has(filter.id));
      if (!own && !meets(row.lists, changed.lists)) this.held.set(id, row);
    }
  }

  /** The cells of one cluster. */
  row(cluster: Cluster, columns: readonly MatrixColumn[]): readonly (MatrixCell | undefined)[] {
    const names = columns.map(({ kind, label }) => `${kind} ${label}`).join();
    const known = this.rows.get(cluster.id);
    if (known?.cluster === cluster && known.columns === names) return known.cells;
    const held = this.held.get(cluster.id);
    const last = held?.cluster === cluster && held.columns === names ? held : undefined;
    this.met = new Set(last?.lists);
    const sources = last?.sources ?? this.sourcesOf(cluster);
    const cells = columns.map((column, at) =>
      last !== undefined && isOfOne(column) ? last.cells[at] : this.cell(cluster, sources, column),
    );
    this.rows.set(cluster.id, { cluster, columns: names, sources, cells, lists: this.met });
    return cells;
  }

  private get distinct(): Distinct {
    this.told ??= new Distinct(this.forwarding);
    return this.told;
  }

  private cell(cluster: Cluster, sources: readonly Source[], column: MatrixColumn): MatrixCell | undefined {
    switch (column.kind) {
      case 'api':
        return this.worst(sources.filter(({ host }) => host.kind === 'node'), { kind: 'api', clusterId: cluster.id }, `api of ${cluster.name}`, cluster); // prettier-ignore
      case 'internet':
        return this.worst(sources, { kind: 'internet', service: { protocol: 'tcp', port: 443 } }, 'the internet tcp 443', cluster); // prettier-ignore
      case 'need':
        if (!isNeedOf(column.need, cluster)) return undefined;
        return this.worst(sources, { kind: 'need', needId: column.need.id }, `need ${column.need.name}`, cluster);
      case 'name servers':
      case 'time servers':
        return this.servers(cluster, sources, column.kind);
      case 'in use':
        return this.several(cluster, sources, 'in use', 443, ({ label }) => `range ${label} tcp 443`);
      case 'nodes':
        return this.several(cluster, sources, 'node', KUBELET_PORT, ({ cluster: other }) => `node of ${other?.name ?? ''} tcp ${KUBELET_PORT}`); // prettier-ignore
      case 'pods':
        return this.several(cluster, sources, 'pod', POD_PORT, ({ cluster: other }) => `pod of ${other?.name ?? ''} tcp ${POD_PORT}`); // prettier-ignore
    }
  }

  /** A pod and a node in each zone that the cluster has a node range in: needs are felt by both, and zones differ. */
  private sourcesOf(cluster: Cluster): Source[] {
    const ranges = this.forwarding.rangesOf(cluster.id).filter(({ purpose }) => purpose === 'node');
    const family = cluster.family === 'ipv6' ? 6 : 4;
    const zones = [...new Set(ranges.filter((range) => rangeOf(range).family === family).map(({ zone }) => zone))];
    return zones.flatMap((zone) =>
      (['node', 'pod'] as const).flatMap((kind): Source[] => {
        const part = { clusterId: cluster.id, nodePoolId: null, zone };
        const host = kind === 'node' ? nodeHost(this.forwarding, part, family) : podHost(this.forwarding, part, family);
        if (!host.ok) return [];
        const words = `${kind} of ${cluster.name}${zone === '' ? '' : `, zone ${zone}`}`;
        return [{ host: host.value, words, key: this.distinct.keyOf(host.value) }];
      }),
    );
  }

  private worst(sources: readonly Source[], target: Target, to: string, cluster: Cluster): MatrixCell {
    let found: { judged: Judged; from: string } | undefined;
    for (const { host, words, key } of sources) {
      const aims = aimsOf(this.forwarding, target, host);
      const judged = aims.ok
        ? this.judge(`${key} ${this.insideKey(cluster, aims.value)} > ${to}`, () => this.ask(host, aims.value))
        : { verdict: 'unknown' as const, code: undefined, say: aims.problem.message, lists: [] };
      if (found === undefined || order.indexOf(judged.verdict) < order.indexOf(found.judged.verdict)) found = { judged, from: words }; // prettier-ignore
    }
    if (found === undefined) return withoutRanges(cluster, to);
    const { judged, from } = found;
    const { verdict, code, say } = judged;
    return { verdict, code, say, from, to, passes: verdict === 'pass' ? 1 : 0, of: 1 };
  }

  /** What lies in a range of the cluster's own is looked for inside it, so such targets are told apart by the cluster. */
  private insideKey(cluster: Cluster, aims: readonly Aim[]): string {
    const own = this.internal(cluster);
    return aims.some(({ address }) => own.some(({ prefix }) => containsAddress(prefix, address))) ? cluster.id : '';
  }

  /** Ranges of a cluster that its nodes take for their own; those of services and overlay pods never let anything out. */
  private internal({ id, podMode }: Cluster): { readonly prefix: Prefix; readonly isHiding: boolean }[] {
    return this.forwarding
      .rangesOf(id)
      .filter(({ purpose }) => purpose === 'service' || purpose === 'pod')
      .map((range) => ({ prefix: rangeOf(range), isHiding: range.purpose === 'service' || podMode === 'overlay' }));
  }

  private ask(from: Host, aims: readonly Aim[]): Judged {
    let worst: Omit<Judged, 'lists'> = { verdict: 'pass', code: undefined, say: '' };
    const lists = new Set<string>();
    for (const aim of aims) {
      const { verdict, failed, forth, back } = traceFlow(this.forwarding, from, aim, USUAL_BYTES);
      for (const { decisions = [] } of [...forth, ...back]) for (const { list } of decisions) lists.add(list.id);
      if (order.indexOf(verdict) < order.indexOf(worst.verdict))
        worst = { verdict, code: failed?.failure.code, say: failed?.say ?? '' };
    }
    return { ...worst, lists: [...lists] };
  }

  private servers(
    cluster: Cluster,
    sources: readonly Source[],
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
      ),
    );
    return cells.reduce((worst, cell) => (order.indexOf(cell.verdict) < order.indexOf(worst.verdict) ? cell : worst));
  }

  /** From the first pod of a cluster to many targets, counted group by group. */
  private several(
    cluster: Cluster,
    sources: readonly Source[],
    kind: Several,
    port: number,
    wordsOf: (target: Host) => string,
  ): MatrixCell | undefined {
    const source = sources.find(({ host }) => host.kind === 'pod') ?? sources[0];
    const targets = this.targetsOf(kind);
    const own = targets.keyOfCluster(cluster.id);
    const of = targets.count - (own === undefined ? 0 : 1);
    const isOther = (host: Host) => kind === 'in use' || host.cluster?.id !== cluster.id;
    const example = targets.groups.flatMap(({ hosts }) => hosts.find(isOther) ?? [])[0];
    if (example === undefined) return undefined;
    if (source === undefined) return withoutRanges(cluster, wordsOf(example));
    const sum = this.sumOf(source, kind, port, targets);
    let { passes } = sum;
    let failing = sum.failing.flatMap(({ judged, hosts }) => {
      const target = hosts.find(isOther);
      return target === undefined ? [] : [{ judged, target }];
    })[0];
    // The cluster's own machine is among its group, and is not counted.
    if (own !== undefined && this.known.get(`${source.key} > ${own} ${port}`)?.verdict === 'pass') passes--;
    const reaches = (key: string) => this.known.get(`${source.key} > ${key} ${port}`)?.verdict === 'pass';
    const ownAddress = targets.addressOf(cluster.id);
    for (const { prefix, isHiding } of this.internal(cluster)) {
      // What lies in a range of the cluster's own is hidden from it, whatever its group reaches.
      if (isHiding) {
        const hasOwn = ownAddress !== undefined && containsAddress(prefix, ownAddress);
        for (const [key, { count, host }] of targets.countsWithin(prefix)) {
          const others = count - (hasOwn && key === own ? 1 : 0);
          if (others === 0) continue;
          if (reaches(key)) passes -= others;
          failing ??= { judged: hidden(cluster, prefix, host), target: host };
        }
        continue;
      }
      for (const { host, key } of targets.within(prefix)) {
        if (!isOther(host)) continue;
        const judged = this.judge(
          `${source.key} ${cluster.id} > ${key} ${port}`,
          () => this.askHost(source.host, host, port),
          false,
        );
        if (reaches(key)) passes--;
        if (judged.verdict === 'pass') passes++;
        else failing ??= { judged, target: host };
      }
    }
    const isAll = passes === of;
    const { verdict, code, say } = isAll || failing === undefined ? passing : failing.judged;
    return {
      verdict,
      code,
      say,
      from: source.words,
      to: wordsOf(isAll || failing === undefined ? example : failing.target),
      passes,
      of,
    };
  }

  /** What a source reaches of all targets of a kind, group by group; asked once for all sources that are alike. */
  private sumOf(source: Source, kind: Several, port: number, targets: Targets): Sum {
    const key = `${source.key} ${kind}`;
    const known = this.sums.get(key);
    if (known !== undefined) return known;
    let passes = 0;
    const failing: Sum['failing'][number][] = [];
    for (const { key: group, hosts } of targets.groups) {
      // Any of them that is not the asking cluster's own stands for all.
      const target =
        hosts.find((host) => host.cluster === undefined || host.cluster.id !== source.host.cluster?.id) ?? hosts[0];
      if (target === undefined) continue;
      const judged = this.judge(
        `${source.key} > ${group} ${port}`,
        () => this.askHost(source.host, target, port),
        false,
      );
      if (judged.verdict === 'pass') passes += hosts.length;
      else if (failing.length < 2) failing.push({ judged, hosts });
    }
    const sum = { passes, failing };
    this.sums.set(key, sum);
    return sum;
  }

  private askHost(from: Host, target: Host, port: number): Judged {
    const { address, label } = target;
    return this.ask(from, [{ address, protocol: 'tcp', port, host: target, isOutside: true, label }]);
  }

  private targetsOf(kind: Several): Targets {
    const known = this.targets.get(kind);
    if (known !== undefined) return known;
    const hosts = kind === 'in use' ? machinesInUse(this.forwarding) : machinesOfClusters(this.forwarding, kind);
    const targets = new Targets(hosts, this.distinct);
    this.targets.set(kind, targets);
    return targets;
  }

  private judge(key: string, ask: () => Judged, isOfOneTarget = true): Judged {
    const judged = this.known.get(key) ?? ask();
    this.known.set(key, judged);
    if (isOfOneTarget) for (const list of judged.lists) this.met.add(list);
    return judged;
  }
}

const order: readonly TraceVerdict[] = ['broken', 'refused', 'unknown', 'pass'];

function withoutRanges(cluster: Cluster, to: string): MatrixCell {
  return {
    verdict: 'unknown',
    code: undefined,
    say: `${cluster.name} has no node range yet.`,
    from: `node of ${cluster.name}`,
    to,
    passes: 0,
    of: 1,
  };
}

/** The filters and firewalls whose rules differ between two states, and the prefixes those rules name; undefined when anything else differs. */
function changedRules(
  before: Forwarding,
  after: Forwarding,
): { readonly lists: ReadonlySet<string>; readonly prefixes: readonly Prefix[] } | undefined {
  if (before.rangesOf !== after.rangesOf) return undefined;
  const isRules = (part: string) => part === 'filterRules' || part === 'firewallRules';
  if (!forwardingReads.every((part) => isRules(part) || before.parts[part] === after.parts[part])) return undefined;
  const filters = changedBetween(before.parts.filterRules, after.parts.filterRules);
  const firewalls = changedBetween(before.parts.firewallRules, after.parts.firewallRules);
  return {
    lists: new Set([
      ...[...filters.gone, ...filters.come].map(({ filterId }) => filterId),
      ...[...firewalls.gone, ...firewalls.come].map(({ firewallId }) => firewallId),
    ]),
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
function hidden({ name }: Cluster, prefix: Prefix, target: Host): Judged {
  const say = `${formatAddress(target.address)} lies in ${formatPrefix(prefix)} of ${name} itself, so its nodes never send it out.`;
  return { verdict: 'broken', code: 'shadowed', say, lists: [] };
}

const passing: Omit<Judged, 'lists'> = { verdict: 'pass', code: undefined, say: '' };

/** Whether a column is about one target, or about many that are counted. */
function isOfOne({ kind }: MatrixColumn): boolean {
  return kind !== 'nodes' && kind !== 'pods' && kind !== 'in use';
}

function meets(lists: ReadonlySet<string>, changed: ReadonlySet<string>): boolean {
  for (const id of changed) if (lists.has(id)) return true;
  return false;
}
