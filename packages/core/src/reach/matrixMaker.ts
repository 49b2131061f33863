import { containsAddress } from '../address/index.js';
import { aimsOf, isNeedOf } from '../forwarding/index.js';
import type { Forwarding, Host } from '../forwarding/index.js';
import type { Cluster, Target } from '../plan/index.js';
import { worstFirst } from '../road/index.js';
import type { Lack } from '../road/index.js';
import { meets, dependsOnAny } from './answers.js';
import type { Judged } from './answers.js';
import { Asking, passing } from './asking.js';
import { changedRules } from './changedRules.js';
import { GroupAnswers, passingWithin } from './groupAnswers.js';
import type { MatrixCell, MatrixColumn } from './matrix.js';
import { hidden, insideKey, ownRangesOf } from './ownRanges.js';
import type { OwnRange } from './ownRanges.js';
import { severalOf } from './several.js';
import type { SeveralTargets } from './several.js';
import { askingOf, sourcesOf } from './sources.js';
import type { Source } from './sources.js';

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

/**
 * Answers of the matrix, cluster by cluster. Sources and targets that forwarding cannot tell apart (same network, tables, filters,
 * and the same rows and rules around their addresses) are asked once. After an edit of rules, the rows whose packets met none of
 * the edited lists are taken over.
 */
export class MatrixMaker {
  private readonly asking: Asking;
  private readonly groups: GroupAnswers;
  private readonly known = new Map<string, Judged>();
  private readonly rows = new Map<string, Row>();
  /** Rows of the state before whose columns of one target still hold. */
  private readonly held = new Map<string, Row>();
  private changed: ReadonlySet<string> = new Set();
  private readonly movedHosts: readonly Host[];
  private met = new Set<string>();

  constructor(
    private readonly forwarding: Forwarding,
    before?: MatrixMaker,
  ) {
    this.asking = new Asking(forwarding);
    this.groups = new GroupAnswers(forwarding, this.asking);
    const changed = before === undefined ? undefined : changedRules(before.forwarding, forwarding);
    if (before !== undefined && changed !== undefined && this.groups.follow(before.groups, changed)) {
      this.changed = changed.lists;
      for (const [key, judged] of before.known) if (!dependsOnAny(judged, changed.lists)) this.known.set(key, judged);
      for (const [id, row] of before.rows)
        if (!changed.attached.has(id) && !meets(row.lists, changed.lists)) this.held.set(id, row);
    }
    this.movedHosts = this.groups.movedHosts;
  }

  /** The cells of one cluster. */
  row(cluster: Cluster, columns: readonly MatrixColumn[]): readonly (MatrixCell | undefined)[] {
    const known = this.rows.get(cluster.id);
    if (known?.cluster === cluster && isSameColumns(known.columns, columns)) return known.cells;
    const held = this.held.get(cluster.id);
    const last = held?.cluster === cluster && isSameColumns(held.columns, columns) ? held : undefined;
    this.met = new Set(last?.lists);
    const sources = last?.sources ?? sourcesOf(this.forwarding, this.groups.distinct, cluster);
    const own = last?.own ?? ownRangesOf(this.forwarding, cluster);
    const hasMoved = this.movedHosts.some(({ address }) => own.some(({ prefix }) => containsAddress(prefix, address)));
    const isSettled = last !== undefined && !hasMoved && this.groups.isSettled(askingOf(sources));
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
        ? this.judgeOne(`${number} ${insideKey(cluster, own, aims.value)} > ${to}`, () =>
            this.asking.all(host, aims.value),
          )
        : { verdict: 'unknown' as const, why: aims.lack, lists: [], refusing: [] };
      if (found === undefined || worstFirst.indexOf(judged.verdict) < worstFirst.indexOf(found.judged.verdict))
        found = { judged, from: words };
    }
    if (found === undefined) return withoutRanges(cluster, to);
    const { judged, from } = found;
    const { verdict, why } = judged;
    return { verdict, why, from, to, passes: verdict === 'pass' ? 1 : 0, of: 1 };
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
    const targets = this.groups.targetsOf(kind);
    const own = targets.ownOf(cluster.id);
    const of = targets.count - (own === undefined ? 0 : 1);
    const isOther = (host: Host) => host !== own?.host;
    const isShownElsewhere = (host: Host) =>
      source !== undefined && this.forwarding.tunnels.addressFor(source.host, host) !== host.address;
    const example = first(targets.groups, ({ hosts }) => hosts.find(isOther));
    if (example === undefined) return { cell: undefined };
    if (source === undefined) return { cell: withoutRanges(cluster, wordsOf(example)) };
    const sum = this.groups.sumOf(source, kind, port, targets, own?.host);
    const answers = this.groups.answersOf(kind);
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
          this.asking.host(source.host, host, port),
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
