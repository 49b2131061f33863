import { podHost } from '../forwarding/index.js';
import type { Host } from '../forwarding/index.js';
import { blockedWay, serving } from '../naming/index.js';
import type { Exporter, Imported } from '../naming/index.js';
import { podsFor } from '../plan/index.js';
import type { Cluster, ClusterService, Connection, Member } from '../plan/index.js';
import { verdictOf as flowVerdict, verdictOfLack } from '../road/index.js';
import type { Subject } from '../road/index.js';
import type { IngressState } from '../ingress/index.js';
import type { RequestProgress } from './requestProgress.js';
import { standingAddress } from '../ingress/index.js';
import type { ServiceCalls } from './serviceCalls.js';

/** Calls of services that other clusters export. */
export class AcrossCalls {
  constructor(
    private readonly state: IngressState,
    private readonly way: RequestProgress,
    private readonly from: Host,
    private readonly services: ServiceCalls,
  ) {}

  /** A service that other clusters export: its calls go to the lowest rank that is reached, parted by weight. */
  callImported(imported: Imported, port: number): void {
    const { from } = this;
    const cluster = from.cluster as Cluster;
    const { connection, namespace, name, exporters } = imported;
    const of = (exporter: Exporter): Subject => ({ kind: 'serviceExports', id: exporter.exported.id });
    const open = serving(this.state.parts, this.state.forwarding, cluster, imported);
    // Where nobody is reached, the way to the first shows why.
    const [first] = [...exporters].sort((a, b) => a.exported.rank - b.exported.rank);
    const called = open.length > 0 ? open : first === undefined ? [] : [first];
    const sum = called.reduce((total, { exported }) => total + exported.weight, 0);
    for (const exporter of exporters) {
      const blocked = called.includes(exporter)
        ? undefined
        : blockedWay(this.state.forwarding, cluster, imported, exporter);
      if (blocked !== undefined)
        this.way.stage(
          'open step',
          'open',
          { code: 'export.idle', cluster: exporter.cluster.name, service: `${namespace}/${name}`, blocked },
          of(exporter),
        );
    }
    const rank = called[0]?.exported.rank ?? 1;
    const shown = called.map(({ exported, cluster: at }) => ({
      cluster: at.name,
      share: sum > 0 && called.length > 1 ? exported.weight / sum : undefined,
    }));
    this.way.stage('members', 'ok', {
      code: 'export.by',
      service: `${namespace}/${name}`,
      connection: connection.name,
      shown,
      rank,
    });
    const call = (exporter: Exporter, share: number) => {
      const { service } = exporter;
      if (service === undefined)
        throw this.way.stop(
          'broken',
          undefined,
          'service',
          { code: 'export.gone', cluster: exporter.cluster.name, service: `${namespace}/${name}` },
          of(exporter),
        );
      this.callAcross(imported, exporter, service, port, share, from);
    };
    for (const exporter of called) {
      const share = sum === 0 ? 1 : exporter.exported.weight / sum;
      if (called.length > 1) this.way.attempt(share, () => call(exporter, share));
      else call(exporter, share);
    }
    this.way.members = this.way.members.map((each) => ({ ...each, rank }));
    this.standBy(exporters, rank, port);
  }

  /** Exporters of further ranks, whose pods take over when none before is left. */
  private standBy(exporters: readonly Exporter[], rank: number, port: number): void {
    for (const { service, exported, cluster: at } of exporters) {
      if (exported.rank <= rank || service === undefined || exported.weight === 0) continue;
      const servicePort = this.state.answeringAt(service, port);
      const up = (servicePort?.members ?? []).filter(({ workload }) => podsFor(service, workload) > 0);
      const pods = up.reduce((total, { workload }) => total + podsFor(service, workload), 0);
      for (const { workload, port: container = 0 } of up)
        this.way.standby.push({
          service,
          workload,
          port: container,
          share: (exported.weight * podsFor(service, workload)) / pods,
          cluster: at.name,
          rank: exported.rank,
        });
    }
  }

  private callAcross(
    { connection }: Imported,
    exporter: Exporter,
    service: ClusterService,
    port: number,
    share: number,
    from: Host,
  ): void {
    const own = from.cluster as Cluster;
    if (exporter.cluster.id === own.id || connection.method === 'flat') {
      this.services.callService(service, port, share, from);
      return;
    }
    const { forwarding } = this.state;
    if (connection.method === 'tunnels') {
      const inner = standingAddress(forwarding, exporter.cluster, service, from.address.family);
      if (inner === undefined && service.type !== 'headless')
        throw this.way.stop(
          'unknown',
          undefined,
          'service',
          { code: 'range.none', cluster: exporter.cluster.name },
          {
            kind: 'clusters',
            id: exporter.cluster.id,
          },
        );
      this.way.seen = {
        ...this.way.seen,
        address: forwarding.crossings.shownIn(connection.id, own.id, from.address),
      };
      this.services.podsOf(service, port, from, share, (pod, podPort) => {
        const show = (address: Host['address']) =>
          forwarding.crossings.shownIn(connection.id, exporter.cluster.id, address);
        if (service.type === 'headless' || inner === undefined) return { address: show(pod.address) };
        return { address: show(inner), port, service: { address: inner, port, pod, podPort } };
      });
      return;
    }
    this.services.podsOf(service, port, this.throughRelays(connection, exporter, port, from), share);
  }

  /** The relay of a cluster, where it has pods; the first of its pods stands for it, or another one than those that ask. */
  private relayOf(cluster: Cluster, which: 'first' | 'other'): Host {
    const pod = podHost(
      this.state.forwarding,
      { clusterId: cluster.id, nodePoolId: null, zone: '' },
      cluster.family === 'ipv6' ? 6 : 4,
      which,
    );
    if (pod.ok) return { ...pod.value, label: `relay of ${cluster.name}` };
    const subject: Subject = { kind: 'clusters', id: cluster.id };
    throw this.way.stop(verdictOfLack(pod.lack), undefined, 'members', { code: 'lack', lack: pod.lack }, subject);
  }

  /** To the own relay, from relay to relay over the links that one side dialled, and as the last one on to the pods. */
  private throughRelays(connection: Connection, exporter: Exporter, port: number, from: Host): Host {
    const { forwarding } = this.state;
    const own = from.cluster as Cluster;
    const crossing = forwarding.crossings.between(own.id, exporter.cluster.id, connection.id);
    const subject: Subject = { kind: 'connections', id: connection.id };
    if (crossing === undefined || crossing.isHubMissing)
      throw this.way.stop(
        'broken',
        undefined,
        'members',
        { code: 'relay.no-way', connection: connection.name, from: own.name, to: exporter.cluster.name },
        subject,
      );
    const here = this.relayOf(own, 'other');
    // Of several exporters the road to the first is drawn.
    const isDrawn = this.way.members.length === 0;
    if (isDrawn) this.way.leg(from, here, 'tcp', port, false, { by: 'relay', name: connection.name });
    for (const [at, member] of crossing.stops.slice(0, -1).entries()) {
      const next = crossing.stops[at + 1] as Member;
      const link = forwarding.tunnels.between(connection, member, next);
      if (!link.ok)
        throw this.way.stop('broken', undefined, 'members', { code: 'relay.lack', lack: link.lack }, subject);
      const { fault, forth, back, failed, room, from: dialler, to } = link.value;
      if (fault !== undefined)
        throw this.way.stop(
          failed === undefined ? 'broken' : flowVerdict(failed),
          undefined,
          'members',
          { code: 'relay.down', connection: connection.name, fault, failed },
          subject,
        );
      if (!isDrawn) continue;
      const isOwn = dialler.member === member;
      const aim = {
        address: to.address,
        protocol: 'tcp' as const,
        port: 0,
        host: to.host,
        isOutside: true,
        label: `${dialler.host.label} to ${to.host.label}`,
      };
      this.way.legs.push({
        flow: {
          from: (isOwn ? dialler : to).host,
          aim,
          verdict: 'pass',
          forth: isOwn ? forth : back,
          back: isOwn ? back : forth,
          failed: undefined,
          room,
        },
        chosen: { by: 'link', dialler: dialler.host.label },
      });
    }
    this.way.via.push({ what: 'relay', name: connection.name, pods: undefined, isSharedByNode: false });
    const there = this.relayOf(exporter.cluster, 'first');
    this.way.seen = { address: there.address, instead: { is: 'relay', cluster: exporter.cluster.name }, isTold: false };
    return there;
  }
}
