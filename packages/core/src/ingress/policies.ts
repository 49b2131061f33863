import { contains, containsAddress, formatAddress, overlaps } from '../address/index.js';
import type { Address, Prefix } from '../address/index.js';
import type { Guard } from '../forwarding/index.js';
import {
  hostPrefix,
  labelMap,
  labelsOfNamespace,
  meets,
  readContainerPort,
  readPolicyRule,
  readSelectorTerm,
} from '../plan/index.js';
import type { Cluster, NetworkPolicy, PolicyPort, PolicyRule, SelectorTerm, Workload } from '../plan/index.js';
import { nameOf } from './words.js';
import type { PolicyDecision } from '../road/index.js';

/** Where the DNS of a cluster runs, and how its pods are labelled. Source: common practice. */
const DNS_NAMESPACE = 'kube-system';
const DNS_LABELS: ReadonlyMap<string, string> = new Map([['k8s-app', 'kube-dns']]);
/** The address of a cache of names on each node. Source: common practice, in link-local space (RFC 3927). */
const NODE_CACHE: Prefix = hostPrefix('169.254.20.10');

/** A policy with its selectors and rules read. */
interface Compiled {
  readonly policy: NetworkPolicy;
  readonly selector: readonly SelectorTerm[];
  readonly isIngress: boolean;
  readonly isEgress: boolean;
  readonly allowIn: readonly PolicyRule[];
  readonly allowOut: readonly PolicyRule[];
}

/**
 * The network policies of one cluster. Semantics: documentation of the Kubernetes API, NetworkPolicy (from memory). A pod that no policy
 * selects for a direction allows all; selected, it allows the union of what they allow. Blocks of addresses are for what stands outside the
 * cluster: they are never matched by its own pods.
 */
export class PolicySet {
  private readonly compiled: readonly Compiled[];
  private readonly namespaces = new Map<string, ReadonlyMap<string, string>>();
  private readonly guards = new Map<string, Guard>();

  constructor(
    private readonly cluster: Pick<Cluster, 'namespaceLabels' | 'hasNodeCache'>,
    policies: readonly NetworkPolicy[],
  ) {
    this.compiled = policies.map((policy) => ({
      policy,
      selector: policy.selector.flatMap((text) => readSelectorTerm(text) ?? []),
      ...directionsOf(policy),
      allowIn: policy.allowIn.flatMap((text) => readPolicyRule(text) ?? []),
      allowOut: policy.allowOut.flatMap((text) => readPolicyRule(text) ?? []),
    }));
  }

  /** What holds the calls of a workload's pods. */
  guardOf(workload: Workload): Guard {
    const known = this.guards.get(workload.id);
    if (known?.workload === workload) return known;
    const guard: Guard = {
      workload,
      judge: (direction, other, protocol, port) => this.judge(direction, workload, other, protocol, port),
    };
    this.guards.set(workload.id, guard);
    return guard;
  }

  /** Whether the policies let a pod of `own` get (ingress) or make (egress) a call; the port is that of the pod that is called. */
  judge(
    direction: 'ingress' | 'egress',
    own: Workload,
    other: { readonly workload: Workload | undefined; readonly address: Address },
    protocol: string,
    port: number,
  ): PolicyDecision {
    const selecting = this.selecting(direction, own);
    const peer = other.workload === undefined ? formatAddress(other.address) : nameOf(other.workload);
    const said = (isAllowed: boolean, deciding: typeof selecting): PolicyDecision => ({
      isAllowed,
      direction,
      policies: deciding.map(({ policy }) => ({ id: policy.id, name: nameOf(policy) })),
      own: nameOf(own),
      peer,
      protocol,
      port,
    });
    const [first] = selecting;
    if (first === undefined) return said(true, []);
    // Names of ports are those of the pod that is called.
    const called = direction === 'ingress' ? own : other.workload;
    const allowing = selecting.find(({ policy, allowIn, allowOut }) =>
      (direction === 'ingress' ? allowIn : allowOut).some(
        (rule) => this.isPeer(rule, policy.namespace, other) && isOnPort(rule.ports, protocol, port, called),
      ),
    );
    return allowing === undefined ? said(false, selecting) : said(true, [allowing]);
  }

  /** Whether a policy selects a workload's pods. */
  selects({ id }: NetworkPolicy, { namespace, labels }: Workload): boolean {
    const own = labelMap(labels);
    return this.compiled.some(
      ({ policy, selector }) => policy.id === id && policy.namespace === namespace && meets(own, selector),
    );
  }

  /**
   * Whether some rule lets a workload's pods ask the cluster's DNS on udp 53: by its pods, or by a block around the ranges
   * that it has an address in, or around the link-local address of a cache on each node (common practice).
   */
  asksNames(workload: Workload, ranges: readonly Prefix[]): boolean {
    const selecting = this.selecting('egress', workload);
    const places = this.cluster.hasNodeCache ? [...ranges, NODE_CACHE] : ranges;
    return (
      selecting.length === 0 ||
      selecting.some(({ policy, allowOut }) =>
        allowOut.some(
          (rule) => isOnPort(rule.ports, 'udp', 53, undefined) && this.holdsNames(rule, policy.namespace, places),
        ),
      )
    );
  }

  private holdsNames({ peers }: PolicyRule, namespace: string, places: readonly Prefix[]): boolean {
    if (peers.length === 0) return true;
    return peers.some((peer) => {
      if (peer.kind === 'block')
        return places.some(
          (place) => contains(peer.prefix, place) && !peer.except.some((each) => overlaps(each, place)),
        );
      // The labels of the cluster's DNS are customary.
      if (!meets(DNS_LABELS, peer.pods)) return false;
      return peer.namespaces === undefined
        ? namespace === DNS_NAMESPACE
        : meets(this.labelsOf(DNS_NAMESPACE), peer.namespaces);
    });
  }

  /** The policies that isolate a workload's pods in a direction. */
  private selecting(direction: 'ingress' | 'egress', { namespace, labels }: Workload): readonly Compiled[] {
    const own = labelMap(labels);
    return this.compiled.filter(
      ({ policy, selector, isIngress, isEgress }) =>
        (direction === 'ingress' ? isIngress : isEgress) && policy.namespace === namespace && meets(own, selector),
    );
  }

  private isPeer(
    { peers }: PolicyRule,
    policyNamespace: string,
    { workload, address }: { readonly workload: Workload | undefined; readonly address: Address },
  ): boolean {
    if (peers.length === 0) return true;
    return peers.some((peer) => {
      if (peer.kind === 'block')
        return (
          workload === undefined &&
          containsAddress(peer.prefix, address) &&
          !peer.except.some((each) => containsAddress(each, address))
        );
      if (workload === undefined || !meets(labelMap(workload.labels), peer.pods)) return false;
      return peer.namespaces === undefined
        ? workload.namespace === policyNamespace
        : meets(this.labelsOf(workload.namespace), peer.namespaces);
    });
  }

  private labelsOf(namespace: string): ReadonlyMap<string, string> {
    const known = this.namespaces.get(namespace) ?? labelsOfNamespace(this.cluster, namespace);
    this.namespaces.set(namespace, known);
    return known;
  }
}

/** The directions a policy is about: those it names, else ingress, and egress when it has rules for it. */
function directionsOf({ directions, allowOut }: NetworkPolicy): { isIngress: boolean; isEgress: boolean } {
  if (directions.length === 0) return { isIngress: true, isEgress: allowOut.length > 0 };
  return { isIngress: directions.includes('ingress'), isEgress: directions.includes('egress') };
}

function isOnPort(ports: readonly PolicyPort[], protocol: string, port: number, called: Workload | undefined): boolean {
  if (ports.length === 0) return true;
  return ports.some((each) => {
    if (each.protocol !== protocol) return false;
    if (each.name !== '')
      return called?.ports.some((text) => {
        const open = readContainerPort(text);
        return open?.name === each.name && open.protocol === protocol && open.port === port;
      });
    return each.ports === undefined || (port >= each.ports.first && port <= each.ports.last);
  });
}
