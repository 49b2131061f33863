import { byId } from '../collection.js';
import type { Plan } from '../entities.js';
import type { Cluster } from '../kinds/clusters.js';
import type { DnsRecord } from '../kinds/records.js';
import { readQuestion, writeWish } from './question.js';
import { readServicePort } from '../textForms.js';
import { USUAL_BYTES } from '../kinds/vocabulary.js';

/** The stops at which questions are asked. */
export type AskingStop = 'egress' | 'ingress' | 'dns' | 'cross-cluster';

/** A question in the words of the question bar. */
export interface WorthAsking {
  readonly from: string;
  readonly to: string;
}

const MOST = 3;

/** Up to three questions worth asking at a stop, made from the names of this plan; each can be read back as it stands. */
export function worthAsking(plan: Plan, stop: AskingStop): readonly WorthAsking[] {
  const found: WorthAsking[] = [];
  for (const [from, to] of candidates[stop](plan)) {
    if (found.length === MOST) break;
    if (from === '' || to === '' || found.some((one) => one.from === from && one.to === to)) continue;
    if (readQuestion(plan, from, to, USUAL_BYTES).ok) found.push({ from, to });
  }
  return found;
}

type Pairs = Generator<readonly [from: string, to: string]>;

const podOf = (cluster: Cluster | undefined) => (cluster === undefined ? '' : `pod of ${cluster.name}`);
const nodeOf = (cluster: Cluster | undefined) => (cluster === undefined ? '' : `node of ${cluster.name}`);

const candidates: Readonly<Record<AskingStop, (plan: Plan) => Pairs>> = {
  *egress({ clusters, needs }) {
    const [first] = clusters;
    const elsewhere = clusters.find(({ networkId }) => networkId !== first?.networkId);
    for (const need of needs.slice(0, 1)) {
      const asking = clusters.find(({ id }) => need.clusterIds.includes(id)) ?? first;
      yield [podOf(asking), `need ${need.name}`];
    }
    yield [podOf(first), 'the internet tcp 443'];
    if (first !== undefined) yield ['the internet', `node of ${first.name} tcp 22`];
    if (elsewhere !== undefined) yield [nodeOf(first), `node of ${elsewhere.name} tcp 443`];
    if (first !== undefined) yield [nodeOf(elsewhere), `api of ${first.name}`];
  },
  *ingress(plan) {
    const { ingressRoutes, services, clusters, gateways, listeners } = plan;
    const isTls = [...gateways, ...listeners].some(({ certificate }) => certificate !== '');
    const hosts = new Set<string>();
    for (const { hosts: all, path } of ingressRoutes)
      for (const host of all) {
        // One question for each name; a wildcard stands for names that are not known here.
        if (host.includes('*') || hosts.has(host) || hosts.size === 2) continue;
        hosts.add(host);
        yield ['the internet', `${isTls ? 'https' : 'http'}://${host}${path}`];
      }
    for (const service of services) {
      const [text = ''] = service.ports;
      const port = readServicePort(text)?.port;
      if (port === undefined || service.type === 'ExternalName') continue;
      yield [
        podOf(byId(clusters, service.clusterId)),
        writeWish(plan, { kind: 'service', serviceId: service.id, port }),
      ];
      return;
    }
  },
  *dns({ zones, records, clusters, workloads, ingressRoutes }) {
    const [first] = clusters;
    // A name that somebody calls says more than that of a name server.
    const called = new Set(ingressRoutes.flatMap(({ hosts }) => hosts));
    const fullName = (record: DnsRecord) => {
      const apex = byId(zones, record.zoneId)?.apex ?? '';
      return record.name === '@' ? apex : `${record.name}.${apex}`;
    };
    for (const side of ['public', 'private'] as const) {
      const own = records.filter(
        ({ zoneId, type, name }) =>
          (type === 'A' || type === 'CNAME') && !name.includes('*') && byId(zones, zoneId)?.side === side,
      );
      const record = own.find((each) => called.has(fullName(each))) ?? own[0];
      const zone = byId(zones, record?.zoneId ?? '');
      if (record === undefined || zone === undefined) continue;
      const name = fullName(record);
      const inside = clusters.find(({ networkId }) => zone.networkIds.includes(networkId)) ?? first;
      yield [side === 'public' ? 'the internet' : podOf(inside), `name ${name} type A`];
      if (side === 'public') yield [podOf(first), `name ${name} type A`];
    }
    for (const { callsTo, clusterId } of workloads)
      if (callsTo.length > 0) yield [podOf(byId(clusters, clusterId)), `name ${callsTo[0] ?? ''} type A`];
    if (first !== undefined) yield [podOf(first), 'name kubernetes.default type A'];
  },
  *'cross-cluster'({ members, clusters, connections, serviceExports }) {
    for (const { memberId, namespace, name } of serviceExports.slice(0, 1)) {
      const member = byId(members, memberId);
      const connection = byId(connections, member?.connectionId ?? '');
      const other = members.find(({ id, connectionId }) => id !== memberId && connectionId === member?.connectionId);
      const domain =
        connection?.domain === undefined || connection.domain === '' ? 'clusterset.local' : connection.domain;
      yield [podOf(byId(clusters, other?.clusterId ?? '')), `name ${name}.${namespace}.svc.${domain} type A`];
    }
    for (const { id } of connections) {
      const [one, other] = members
        .filter(({ connectionId }) => connectionId === id)
        .map(({ clusterId }) => byId(clusters, clusterId));
      if (one === undefined || other === undefined) continue;
      yield [podOf(one), `pod of ${other.name} tcp 8080`];
      yield [podOf(other), `pod of ${one.name} tcp 8080`];
    }
    const [first] = clusters;
    const elsewhere = clusters.find(({ networkId }) => networkId !== first?.networkId);
    if (elsewhere !== undefined) yield [podOf(first), `pod of ${elsewhere.name} tcp 8080`];
  },
};
