import type { DrillFact } from '../../english/index.js';
import type { Evaluation } from '../../evaluation/index.js';
import { fullName, naming } from '../../naming/index.js';
import { byId } from '../../plan/index.js';
import { isNamedBy } from '../certificateNamed.js';
import type { Plan } from '../../plan/index.js';
import { drillKey } from './planDrills.js';
import type { DrillOutcome, PlanDrill } from './planDrills.js';

/** A load balancer that is replaced has another address and another name: names follow within their TTL, those by hand once they are edited. */
export function balancerReplaced(
  evaluation: Evaluation,
  drill: PlanDrill & { readonly kind: 'load balancer replaced' },
): DrillOutcome {
  const { plan } = evaluation;
  const balancer = byId(plan.balancers, drill.balancerId);
  const values = [balancer?.address, balancer?.providerName].filter((value) => value != null && value !== '');
  const byHand = plan.records.flatMap(({ zoneId, name, value, ttl }): DrillFact[] => {
    const zone = byId(plan.zones, zoneId);
    if (zone === undefined || !values.includes(value)) return [];
    return [{ fact: 'record by hand', name: fullName(name, zone.apex), seconds: ttl ?? zone.ttl }];
  });
  const kept = evaluation
    .ask(naming)
    .kept.filter(({ value }) => values.includes(value))
    .map(({ name, ttl }): DrillFact => ({ fact: 'record kept', name, seconds: ttl }));
  const facts = [...byHand, ...kept];
  const waits = facts.map((fact) => ('seconds' in fact ? fact.seconds : 0));
  const isCalled = facts.length > 0;
  return {
    drill,
    key: drillKey(drill),
    state: byHand.length > 0 || !isCalled ? 'breaks' : 'interrupted',
    kept: isCalled ? kept.length / facts.length : 0,
    lost: [],
    held: [],
    clusters: [],
    seconds: byHand.length > 0 || !isCalled ? undefined : Math.max(0, ...waits),
    facts: isCalled ? facts : [{ fact: 'nothing answers', balancer: balancer?.name ?? '' }],
  };
}

/** A certificate that ends: clients refuse every host that it stands for, unless it renews itself. */
export function certificateExpired(
  plan: Plan,
  drill: PlanDrill & { readonly kind: 'certificate expired' },
): DrillOutcome | undefined {
  const certificate = byId(plan.certificates, drill.certificateId);
  const name = certificate?.name ?? '';
  const isIts = (text: string, clusterId: string, namespace: string) =>
    certificate !== undefined && isNamedBy(certificate, text, clusterId, namespace);
  const routed = plan.ingressRoutes.filter(
    (route) =>
      isIts(route.certificate, route.clusterId, route.namespace) ||
      isIts(byId(plan.gateways, route.gatewayId ?? '')?.certificate ?? '', route.clusterId, route.namespace),
  );
  const listed = plan.listeners.filter((listener) => listener.certificate === name);
  const hosts = [
    ...new Set([
      ...routed.flatMap((route) => route.hosts),
      ...listed.flatMap((listener) => listener.certificateHosts),
      ...(routed.length + listed.length > 0 ? (certificate?.names ?? []) : []),
    ]),
  ];
  if (hosts.length === 0) return undefined;
  const isBroken = certificate?.renewsItself !== true;
  const clusters = routed.flatMap(({ clusterId }) => byId(plan.clusters, clusterId)?.name ?? []);
  return {
    drill,
    key: drillKey(drill),
    state: isBroken ? 'breaks' : 'holds',
    kept: isBroken ? 0 : 1,
    lost: [],
    held: [],
    clusters: isBroken ? [...new Set(clusters)] : [],
    seconds: isBroken ? undefined : 0,
    facts: [isBroken ? { fact: 'hosts without', certificate: name, hosts } : { fact: 'renewed', certificate: name }],
  };
}
