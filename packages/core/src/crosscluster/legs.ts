import type { Family } from '../address/index.js';
import { formatFailed, formatFault, formatLack, formatPair } from '../english/index.js';
import { gatewayLayers, idsOn, nodeLeg, POD_PORT, traceFlow } from '../forwarding/index.js';
import type { FlowTrace, Forwarding, Host } from '../forwarding/index.js';
import { USUAL_BYTES } from '../plan/index.js';
import type { Cluster, Member } from '../plan/index.js';
import { meets } from '../reach/index.js';
import { verdictOf } from '../road/index.js';
import type { Verdict } from '../road/index.js';
import type { PodHosts } from './podHosts.js';

/** A flow as far as it came. */
export type Failing = Pick<FlowTrace, 'forth' | 'back' | 'failed'>;

/** What one member does by itself: the way between a node and the gateway that carries, or between a pod and the relay. */
export interface Leg {
  /** The node that stands for all; undefined where it has no address yet. */
  readonly node: Host | undefined;
  readonly verdict: Verdict;
  /** Why it does not pass, in a sentence; empty when it does. */
  readonly description: string;
  readonly room: number;
  readonly dependsOn: ReadonlySet<string>;
  readonly failing?: Failing | undefined;
}

const nothing: ReadonlySet<string> = new Set();

/** By family; relays have one way inside, whatever their family. */
type Kind = Family | 'inside';

/** What members of connections do by themselves, each found out once and kept while it rests on nothing that changed. */
export class Legs {
  private readonly made = new Map<string, Map<Kind, Leg>>();

  constructor(
    private readonly forwarding: Forwarding,
    private readonly pods: PodHosts,
  ) {}

  /** The way between a node of a member and its gateway, there and back. */
  toGateway(member: Member, cluster: Cluster, family: Family): Leg {
    return this.known(member.id, family, () => this.makeLeg(member, cluster, family));
  }

  /** The way between a pod and the relay of its cluster: from node to node by the pod network. */
  inside(cluster: Cluster): Leg {
    return this.known(cluster.id, 'inside', () => this.makeInside(cluster));
  }

  /**
   * Takes over the ways of another state that pass, or that may be judged as they were, and rest on nothing that changed.
   * Gives the ids of the members and clusters whose ways are computed again and come to something else.
   */
  follow(
    before: Legs,
    changed: ReadonlySet<string>,
    takesFailing: boolean,
    again: (id: string, kind: Kind, legs: Legs) => Leg | undefined,
  ): ReadonlySet<string> {
    const differing = new Set<string>();
    for (const [id, ways] of before.made)
      for (const [kind, leg] of ways) {
        const isHeld =
          leg.dependsOn.size > 0 && (takesFailing || leg.verdict === 'pass') && !meets(leg.dependsOn, changed);
        if (isHeld && !changed.has(id)) this.known(id, kind, () => leg);
        else if (!isSame(leg, again(id, kind, this))) differing.add(id);
      }
    return differing;
  }

  private known(id: string, kind: Kind, make: () => Leg): Leg {
    const own = this.made.get(id) ?? new Map<Kind, Leg>();
    this.made.set(id, own);
    const leg = own.get(kind) ?? make();
    own.set(kind, leg);
    this.forwarding.lists.note(leg.dependsOn);
    return leg;
  }

  private makeInside(cluster: Cluster): Leg {
    const family: Family = cluster.family === 'ipv6' ? 6 : 4;
    const [one, other] = [this.pods.of(cluster.id, family), this.pods.of(cluster.id, family, 'other')];
    const open = { node: undefined, verdict: 'unknown', room: 0, dependsOn: nothing } as const;
    if (!one.ok) return { ...open, description: formatLack(this.forwarding.parts, one.lack) };
    if (!other.ok) return { ...open, description: formatLack(this.forwarding.parts, other.lack) };
    const flow = walked(this.forwarding, one.value, other.value, false);
    const why = flow.failed === undefined ? '' : formatFault(this.forwarding.parts, flow);
    return {
      node: one.value,
      verdict: flow.verdict,
      description: why === '' ? '' : formatPair({ code: 'relay.not-reached', cluster: cluster.name, why }),
      room: flow.room,
      dependsOn: idsOn([flow]),
      failing: flow.failed === undefined ? undefined : flow,
    };
  }

  private makeLeg(member: Member, cluster: Cluster, family: Family): Leg {
    const none = { node: undefined, verdict: 'unknown', room: 0, dependsOn: nothing } as const;
    const pod = this.pods.of(cluster.id, family);
    if (!pod.ok) return { ...none, description: formatLack(this.forwarding.parts, pod.lack) };
    const node = pod.value.node ?? pod.value;
    const gateway = this.forwarding.tunnels.carrying(member, node.address.family);
    if (!gateway.ok)
      return { ...none, node, verdict: 'broken', description: formatLack(this.forwarding.parts, gateway.lack) };
    const ways = [
      nodeLeg(this.forwarding, cluster, node, gateway.value.host, gatewayLayers(cluster)),
      nodeLeg(this.forwarding, cluster, gateway.value.host, node, gatewayLayers(cluster)),
    ];
    const dependsOn = idsOn(
      ways.map(({ events, failed }) => ({ forth: events, back: [], failed: failed && { ...failed, isBack: false } })),
    ).add(member.id);
    const failed = ways.find((each) => each.failed !== undefined)?.failed;
    const room = Math.min(...ways.map((each) => each.room));
    if (failed === undefined) return { node, verdict: 'pass', description: '', room, dependsOn };
    return {
      node,
      verdict: verdictOf(failed),
      description: formatFailed(this.forwarding.parts, failed),
      room,
      dependsOn,
      failing: { forth: [], back: [], failed: { ...failed, isBack: false } },
    };
  }
}

/** A packet of one machine to another one, and its answer. */
export function walked(forwarding: Forwarding, from: Host, to: Host, isOutside: boolean): FlowTrace {
  return traceFlow(
    forwarding,
    from,
    { address: to.address, protocol: 'tcp', port: POD_PORT, host: to, isOutside, label: to.label },
    USUAL_BYTES,
  );
}

function isSame(a: Leg, b: Leg | undefined): boolean {
  return (
    b !== undefined && a.verdict === b.verdict && a.room === b.room && (a.node === undefined) === (b.node === undefined)
  );
}
