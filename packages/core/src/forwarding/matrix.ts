import { containsAddress, formatAddress, parseAddress } from '../address/index.js';
import type { Address } from '../address/index.js';
import { rangeOf } from '../plan/index.js';
import type { Cluster, Need, Target } from '../plan/index.js';
import { expectGood } from '../result.js';
import type { Forwarding, ForwardingParts } from './forwarding.js';
import { nodeHost, podHost } from './host.js';
import type { Host } from './host.js';
import { Distinct } from './distinct.js';
import { isNeedOf } from './needsOf.js';
import { aimsOf } from './resolve.js';
import type { Failure } from './step.js';
import { traceFlow } from './trace.js';
import type { TraceVerdict } from './trace.js';

/** What the columns of the matrix are about. */
export type MatrixColumn =
  | { readonly kind: 'api'; readonly label: string }
  | { readonly kind: 'internet'; readonly label: string }
  | { readonly kind: 'need'; readonly label: string; readonly need: Need }
  | { readonly kind: 'name servers' | 'time servers'; readonly label: string }
  | { readonly kind: 'in use' | 'nodes' | 'pods'; readonly label: string };

/** One cell: a verdict, or how many of several targets pass; undefined where the column is not about the cluster. */
export interface MatrixCell {
  readonly verdict: TraceVerdict;
  /** Why it does not pass; undefined when it does, or when nothing was sent. */
  readonly code: Failure['code'] | undefined;
  /** What decides, in a sentence; of several targets, of the first that does not pass. */
  readonly say: string;
  /** The question behind it, in the words of the question bar. */
  readonly from: string;
  readonly to: string;
  readonly passes: number;
  readonly of: number;
}

/** Every cluster by every column. */
export interface Matrix {
  readonly columns: readonly MatrixColumn[];
  readonly rows: readonly { readonly cluster: Cluster; readonly cells: readonly (MatrixCell | undefined)[] }[];
}

const BYTES = 576;
/** Ports that stand for any service of another cluster's nodes and pods. Sources: kubelet, from memory of the Kubernetes documentation; common practice. */
const NODE_PORT = 10_250;
const POD_PORT = 8080;

/** The columns that a plan has: its own API, the internet, needs, servers of the networks, ranges in use, other clusters. */
export function matrixColumns(parts: ForwardingParts): MatrixColumn[] {
  const has = (field: 'nameServers' | 'timeServers') => parts.networks.some((network) => network[field].length > 0);
  return [
    { kind: 'api', label: 'Own API' },
    ...parts.needs.map((need): MatrixColumn => ({ kind: 'need', label: need.name, need })),
    ...(has('nameServers') ? [{ kind: 'name servers', label: 'Name servers' } as const] : []),
    ...(has('timeServers') ? [{ kind: 'time servers', label: 'Time servers' } as const] : []),
    { kind: 'internet', label: 'Internet' },
    ...(parts.inUse.length > 0 ? [{ kind: 'in use', label: 'Ranges in use' } as const] : []),
    { kind: 'nodes', label: 'Other nodes' },
    { kind: 'pods', label: 'Other pods' },
  ];
}

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
}

/**
 * Answers of the matrix, cluster by cluster. Sources that forwarding cannot tell apart (same network, tables, filters, and
 * the same rows and rules around their addresses) are asked once for each target.
 */
export class MatrixMaker {
  private readonly told: Distinct;
  private readonly known = new Map<string, Judged>();
  private readonly targets = new Map<string, readonly Host[]>();

  constructor(private readonly forwarding: Forwarding) {
    this.told = new Distinct(forwarding);
  }

  /** The cells of one cluster. */
  row(cluster: Cluster, columns: readonly MatrixColumn[]): (MatrixCell | undefined)[] {
    const sources = this.sourcesOf(cluster);
    return columns.map((column) => this.cell(cluster, sources, column));
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
        return this.several(cluster, sources, this.inUse(), 443, ({ label }) => `range ${label} tcp 443`);
      case 'nodes':
        return this.several(cluster, sources, this.others('node'), NODE_PORT, ({ cluster: other }) => `node of ${other?.name ?? ''} tcp ${NODE_PORT}`); // prettier-ignore
      case 'pods':
        return this.several(cluster, sources, this.others('pod'), POD_PORT, ({ cluster: other }) => `pod of ${other?.name ?? ''} tcp ${POD_PORT}`); // prettier-ignore
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
        return [{ host: host.value, words, key: this.told.keyOf(host.value) }];
      }),
    );
  }

  private worst(sources: readonly Source[], target: Target, to: string, cluster: Cluster): MatrixCell {
    let found: { judged: Judged; from: string } | undefined;
    for (const { host, words, key } of sources) {
      const judged = this.judge(`${key} > ${to}`, () => this.ask(host, target));
      if (found === undefined || order.indexOf(judged.verdict) < order.indexOf(found.judged.verdict)) found = { judged, from: words }; // prettier-ignore
    }
    if (found === undefined) return withoutRanges(cluster, to);
    const { judged, from } = found;
    return { ...judged, from, to, passes: judged.verdict === 'pass' ? 1 : 0, of: 1 };
  }

  private ask(from: Host, target: Target): Judged {
    const aims = aimsOf(this.forwarding, target, from);
    if (!aims.ok) return { verdict: 'unknown', code: undefined, say: aims.problem.message };
    let worst: Judged = { verdict: 'pass', code: undefined, say: '' };
    for (const aim of aims.value) {
      const { verdict, failed } = traceFlow(this.forwarding, from, aim, BYTES);
      if (order.indexOf(verdict) < order.indexOf(worst.verdict))
        worst = { verdict, code: failed?.failure.code, say: failed?.say ?? '' };
    }
    return worst;
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

  /** From the first node and pod of a cluster to many targets, counted. */
  private several(
    cluster: Cluster,
    sources: readonly Source[],
    targets: readonly Host[],
    port: number,
    wordsOf: (target: Host) => string,
  ): MatrixCell | undefined {
    const source = sources.find(({ host }) => host.kind === 'pod') ?? sources[0];
    const others = targets.filter((target) => target.cluster?.id !== cluster.id);
    const [first] = others;
    if (first === undefined) return undefined;
    if (source === undefined) return withoutRanges(cluster, wordsOf(first));
    let passes = 0;
    let worst: { judged: Judged; to: string } = {
      judged: { verdict: 'pass', code: undefined, say: '' },
      to: wordsOf(first),
    };
    for (const target of others) {
      // What lies in a range of the cluster's own is looked for inside, so it is told apart by the cluster.
      const inside = this.isInside(cluster, target.address) ? cluster.id : '';
      const judged = this.judge(`${source.key} ${inside} > ${this.told.keyOf(target)} ${port}`, () => {
        const aim = {
          address: target.address,
          protocol: 'tcp' as const,
          port,
          host: target,
          isOutside: true,
          label: target.label,
        };
        const { verdict, failed } = traceFlow(this.forwarding, source.host, aim, BYTES);
        return { verdict, code: failed?.failure.code, say: failed?.say ?? '' };
      });
      if (judged.verdict === 'pass') passes++;
      else if (worst.judged.verdict === 'pass') worst = { judged, to: wordsOf(target) };
    }
    const { judged, to } = worst;
    return { ...judged, from: source.words, to, passes, of: others.length };
  }

  private isInside(cluster: Cluster, address: Address): boolean {
    return this.forwarding
      .rangesOf(cluster.id)
      .some(
        (range) => (range.purpose === 'service' || range.purpose === 'pod') && containsAddress(rangeOf(range), address),
      );
  }

  private others(kind: 'node' | 'pod'): readonly Host[] {
    const known = this.targets.get(kind);
    if (known !== undefined) return known;
    const hosts = this.forwarding.parts.clusters.flatMap((cluster) => {
      const part = { clusterId: cluster.id, nodePoolId: null, zone: '' };
      const family = cluster.family === 'ipv6' ? 6 : 4;
      const host = kind === 'node' ? nodeHost(this.forwarding, part, family) : podHost(this.forwarding, part, family);
      return host.ok && family === 4 ? [host.value] : [];
    });
    this.targets.set(kind, hosts);
    return hosts;
  }

  private inUse(): readonly Host[] {
    const known = this.targets.get('in use');
    if (known !== undefined) return known;
    const hosts = this.forwarding.parts.inUse.flatMap((range): Host[] => {
      const prefix = rangeOf(range);
      if (range.networkId === null || prefix.family === 6) return [];
      const address = expectGood(
        parseAddress(formatAddress({ ...prefix, w0: prefix.w0 + (prefix.length < 31 ? 1 : 0) })),
      );
      return [{ kind: 'machine', label: `${range.prefix} (${range.owner})`, address, networkId: range.networkId, zone: '', isPublic: false, attachable: [] }]; // prettier-ignore
    });
    this.targets.set('in use', hosts);
    return hosts;
  }

  private judge(key: string, ask: () => Judged): Judged {
    const known = this.known.get(key);
    if (known !== undefined) return known;
    const judged = ask();
    this.known.set(key, judged);
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
