import { formatDrill } from '../../english/index.js';
import type { DrillFact } from '../../english/index.js';
import { connected, faultKey, faultsOf, formatFault } from '../../crosscluster/index.js';
import type { Fault } from '../../crosscluster/index.js';
import type { Evaluation } from '../../evaluation/index.js';
import { byId, writeOutage } from '../../plan/index.js';
import type { OutagePart, Plan } from '../../plan/index.js';
import type { TestResult } from '../runTests.js';

/** What is done to the whole plan in a drill. */
export type PlanDrill =
  | { readonly kind: 'zone lost'; readonly siteId: string; readonly zone: string }
  | { readonly kind: 'site lost'; readonly siteId: string }
  | { readonly kind: 'NAT lost' | 'firewall lost'; readonly deviceId: string }
  | { readonly kind: 'link cut'; readonly linkId: string }
  | { readonly kind: 'gateway lost'; readonly fault: Fault & { readonly kind: 'gateway' | 'rendezvous' } }
  | { readonly kind: 'load balancer replaced'; readonly balancerId: string }
  | { readonly kind: 'certificate expired'; readonly certificateId: string }
  | { readonly kind: 'several lost'; readonly parts: readonly OutagePart[] }
  | { readonly kind: 'scale out' | 'scale in' | 'node drained' | 'upgrade' | 'DNS halved' | 'range exhausted' };

/** A kind of drill. */
export type DrillKind = PlanDrill['kind'];

/** What came of a drill. */
export interface DrillOutcome {
  readonly drill: PlanDrill;
  readonly key: string;
  /** It goes on as before; it goes on after a while, or with less; or something stays broken. */
  readonly state: 'holds' | 'interrupted' | 'breaks';
  /** The share of what it puts to the test that goes on, 0 to 1. */
  readonly kept: number;
  /** Tests that passed before and do not any more, those of clusters that are gone as a whole apart. */
  readonly lost: readonly TestResult[];
  /** Tests that rest on what is gone, and pass all the same. */
  readonly held: readonly TestResult[];
  /** Clusters that something broke for, by name. */
  readonly clusters: readonly string[];
  /** Seconds until it goes on; undefined where it stays broken until it is mended. */
  readonly seconds: number | undefined;
  readonly facts: readonly DrillFact[];
}

/** A drill as a word for addresses of pages and for files. */
export function drillKey(drill: PlanDrill): string {
  switch (drill.kind) {
    case 'zone lost':
      return `zone~${drill.siteId}~${drill.zone}`;
    case 'site lost':
      return `site~${drill.siteId}`;
    case 'NAT lost':
    case 'firewall lost':
      return `device~${drill.deviceId}`;
    case 'link cut':
      return `link~${drill.linkId}`;
    case 'gateway lost':
      return faultKey(drill.fault);
    case 'load balancer replaced':
      return `balancer~${drill.balancerId}`;
    case 'certificate expired':
      return `certificate~${drill.certificateId}`;
    case 'several lost':
      return drill.parts.map((part) => (part.lost === 'zone' ? `${part.siteId}~${part.zone}` : part.id)).join('+');
    default:
      return drill.kind.replaceAll(' ', '-');
  }
}

/** Every drill of a plan: what can be lost, and what every plan goes through. */
export function drillsOf(evaluation: Evaluation): PlanDrill[] {
  const { plan } = evaluation;
  const used = new Set([...plan.clusters, ...plan.subnets].map(({ siteId }) => siteId));
  const sites = plan.sites.filter(({ id }) => used.has(id));
  const gateways = faultsOf(plan, evaluation.ask(connected)).flatMap((fault): PlanDrill[] =>
    fault.kind === 'gateway' || fault.kind === 'rendezvous' ? [{ kind: 'gateway lost', fault }] : [],
  );
  return [
    { kind: 'scale out' },
    { kind: 'scale in' },
    { kind: 'node drained' },
    { kind: 'upgrade' },
    { kind: 'DNS halved' },
    { kind: 'range exhausted' },
    ...sites.flatMap(({ id, zones }) =>
      zones.length < 2 ? [] : zones.map((zone): PlanDrill => ({ kind: 'zone lost', siteId: id, zone })),
    ),
    ...sites.map(({ id }): PlanDrill => ({ kind: 'site lost', siteId: id })),
    ...plan.natDevices.map(({ id }): PlanDrill => ({ kind: 'NAT lost', deviceId: id })),
    ...plan.firewalls.map(({ id }): PlanDrill => ({ kind: 'firewall lost', deviceId: id })),
    ...plan.links.filter(({ isPlanned }) => !isPlanned).map(({ id }): PlanDrill => ({ kind: 'link cut', linkId: id })),
    ...gateways,
    ...plan.balancers.map(({ id }): PlanDrill => ({ kind: 'load balancer replaced', balancerId: id })),
    ...plan.certificates.map(({ id }): PlanDrill => ({ kind: 'certificate expired', certificateId: id })),
  ];
}

/** What is lost in a drill, as expectations name it; empty for drills that lose nothing which a question can miss. */
export function outageOf(drill: PlanDrill): readonly OutagePart[] {
  switch (drill.kind) {
    case 'zone lost':
      return [{ lost: 'zone', siteId: drill.siteId, zone: drill.zone }];
    case 'site lost':
      return [{ lost: 'site', id: drill.siteId }];
    case 'NAT lost':
      return [{ lost: 'NAT device', id: drill.deviceId }];
    case 'firewall lost':
      return [{ lost: 'firewall', id: drill.deviceId }];
    case 'link cut':
      return [{ lost: 'link', id: drill.linkId }];
    case 'several lost':
      return drill.parts;
    default:
      return [];
  }
}

/** A drill in words. */
export function titleOfDrill(plan: Plan, drill: PlanDrill): string {
  const named = (rows: readonly { readonly id: string; readonly name: string }[], id: string) =>
    formatDrill(drill.kind, byId(rows, id)?.name ?? '');
  switch (drill.kind) {
    case 'zone lost':
      return formatDrill(drill.kind, `${drill.zone} of ${byId(plan.sites, drill.siteId)?.name ?? ''}`);
    case 'site lost':
      return named(plan.sites, drill.siteId);
    case 'NAT lost':
      return named(plan.natDevices, drill.deviceId);
    case 'firewall lost':
      return named(plan.firewalls, drill.deviceId);
    case 'link cut':
      return named(plan.links, drill.linkId);
    case 'gateway lost':
      return formatDrill(drill.kind, formatFault(plan, drill.fault));
    case 'load balancer replaced':
      return named(plan.balancers, drill.balancerId);
    case 'certificate expired':
      return named(plan.certificates, drill.certificateId);
    case 'several lost':
      return formatDrill(drill.kind, writeOutage(plan, drill.parts));
    default:
      return formatDrill(drill.kind, '');
  }
}
