import { formatAddress } from '../address/index.js';
import { formatRequest } from '../english/index.js';
import { hostAt } from '../forwarding/index.js';
import type { FlowTrace, Host } from '../forwarding/index.js';
import { FIRST_NODE_PORT, LAST_NODE_PORT, nameOf } from '../ingress/index.js';
import type { IngressState } from '../ingress/index.js';
import { podsFor, readServicePort } from '../plan/index.js';
import type { ClusterService, Service, ServicePort } from '../plan/index.js';
import { worstFirst } from '../road/index.js';
import type { RequestFact, Verdict } from '../road/index.js';
import type { Answer } from './answer.js';
import { RequestWalk } from './requestWalk.js';

/**
 * What asking a node at a NodePort comes to once the packets are there: whether a service has it, and whether its pods answer through that
 * node. Of several ways to nodes the worst decides. Anything else stays as it is.
 */
export function atNodePort(state: IngressState, { protocol, port }: Service, bytes: number, answer: Answer): Answer {
  if (answer.verdict !== 'pass' || port < FIRST_NODE_PORT || port > LAST_NODE_PORT) return answer;
  const ways = answer.flows.flatMap((flow) => {
    const node = nodeMeant(state, flow);
    return node === undefined ? [] : [onward(state, answer, { flow, node }, { protocol, port }, bytes)];
  });
  const [worst, ...others] = ways.sort((a, b) => worstFirst.indexOf(a.verdict) - worstFirst.indexOf(b.verdict));
  return worst === undefined ? answer : { ...worst, flows: [worst, ...others].flatMap(({ flows }) => flows) };
}

interface Arrived {
  readonly flow: FlowTrace;
  readonly node: Host;
}

/** The node that a flow came to, also where it was asked by its address. */
function nodeMeant(state: IngressState, { aim, forth }: FlowTrace): Host | undefined {
  if (aim.host !== undefined) return aim.host.kind === 'node' ? aim.host : undefined;
  const spot = forth.at(-1)?.spot;
  if (spot?.kind !== 'node') return undefined;
  const found = state.parts.clusters.flatMap(({ networkId }) => {
    const host = hostAt(state.forwarding, networkId, aim.address);
    return host?.kind === 'node' && host.label === spot.name ? [host] : [];
  });
  return found[0];
}

function onward(state: IngressState, answer: Answer, { flow, node }: Arrived, asked: Service, bytes: number): Answer {
  const end = (verdict: Verdict, fact: RequestFact): Answer => ({
    ...answer,
    verdict,
    flows: [flow],
    sentence: `${answer.sentence} ${formatRequest(state.forwarding.parts, fact)}`,
  });
  const { port } = asked;
  // In a subnet that nodes of several clusters share, the plan does not say whose node has an address.
  const areSeveral = state.parts.clusters.filter(({ id }) => node.attachable.includes(id)).length > 1;
  if (areSeveral) return end('unknown', { code: 'node-port.undecided', port });
  const all = portsAt(state, node);
  const found = all.find(({ read }) => read.nodePort === port && read.protocol === asked.protocol);
  if (found === undefined)
    return all.some(({ read }) => read.nodePort === undefined)
      ? end('unknown', { code: 'node-port.undecided', port })
      : end('broken', { code: 'node-port.nobody', cluster: node.cluster?.name ?? '', port });
  const { service, read } = found;
  const stopped = service.externalPolicy === 'local' ? stoppedByLocality(state, service, read.port, node) : undefined;
  if (stopped !== undefined) return end(stopped.verdict, stopped.fact);
  const source = flow.forth.at(-1)?.packet.source ?? flow.from.address;
  const label = `${formatAddress(flow.aim.address)} ${asked.protocol} ${port}`;
  const then = new RequestWalk(state, { ...flow.from, address: source }, label, bytes).askNode(
    flow,
    node,
    service,
    read.port,
  );
  const code = service.externalPolicy === 'local' ? 'node-port.local' : 'node-port.of';
  const of = formatRequest(state.forwarding.parts, { code, service: nameOf(service) });
  return { ...then, sentence: `${answer.sentence} ${of} ${then.sentence}` };
}

/** The ports of services that the nodes of a cluster pass on. */
function portsAt(
  state: IngressState,
  { cluster }: Host,
): { readonly service: ClusterService; readonly read: ServicePort }[] {
  const own = state.servicesOf(cluster?.id ?? '').filter(({ type }) => type === 'NodePort' || type === 'LoadBalancer');
  return own.flatMap((service) =>
    service.ports.flatMap((text) => {
      const read = readServicePort(text);
      return read === undefined ? [] : [{ service, read }];
    }),
  );
}

/** With the external policy Local a node answers for its own pods only: why it does not, or that the plan does not say. */
function stoppedByLocality(
  state: IngressState,
  service: ClusterService,
  port: number,
  { pool, isAnyZone }: Host,
): { readonly verdict: Verdict; readonly fact: RequestFact } | undefined {
  const name = nameOf(service);
  const members = (state.answeringAt(service, port)?.members ?? []).filter(
    (each) => each.port !== undefined && podsFor(service, each.workload) > 0,
  );
  if (members.length === 0) return { verdict: 'broken', fact: { code: 'node-port.no-pods', service: name } };
  // Of an address the plan does not say in which pool its node is.
  if (isAnyZone !== undefined) return { verdict: 'unknown', fact: { code: 'node-port.local-unsaid', service: name } };
  const there = members.filter(({ workload }) => workload.nodePoolId === (pool?.id ?? null));
  if (there.length === 0) return { verdict: 'broken', fact: { code: 'node-port.local-elsewhere', service: name } };
  return there.some(({ workload }) => workload.objectKind === 'DaemonSet')
    ? undefined
    : { verdict: 'unknown', fact: { code: 'node-port.local-unsaid', service: name } };
}
