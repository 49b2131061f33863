import type { NameQuestion } from './event.js';
import type { Failed, PolicyDecision, TunnelFault } from './failure.js';
import type { Lack } from './lack.js';
import type { RouteLoss } from './routeLoss.js';
import type { BlockedWay, NameReason } from './nameReason.js';

/** What speaks to a client on a port, by its names. */
export type Speaker =
  | { readonly is: 'controller'; readonly controller: string; readonly port: number }
  | { readonly is: 'gateway'; readonly listener: string; readonly gateway: string }
  | { readonly is: 'balancer'; readonly listener: string; readonly balancer: string }
  | { readonly is: 'Ingress'; readonly route: string };

/** What a rule does to a request before it is sent on, and how it is sent; empty, null or 0 where it does not. */
export interface RequestChanges {
  readonly rewritePath: string;
  readonly isPrefix: boolean;
  readonly rewriteHost: string;
  readonly headers: readonly string[];
  readonly mirror: string;
  readonly timeoutMs: number | null;
  readonly retries: number;
}

/** What puts another address in place of the client’s; undefined where nothing does. */
export type Instead =
  | { readonly is: 'balancer'; readonly balancer: string }
  | { readonly is: 'node' }
  | { readonly is: 'relay'; readonly cluster: string }
  | undefined;

/** Why a route does not get a call that comes nearest to it. */
export type NearestRoute =
  | { readonly is: 'no listener'; readonly gateway: string; readonly ports: readonly number[] }
  | { readonly is: 'not attached'; readonly listener: string; readonly gateway: string; readonly route: string }
  | { readonly is: 'no rule' }
  | { readonly is: 'near'; readonly route: string; readonly rule: number; readonly why: RouteLoss };

/** A rule of a route, by its kind, its name with the namespace, and its number. */
interface Rule {
  readonly form: string;
  readonly route: string;
  readonly rule: number;
}

/** Something that is decided on the way of a request. Entities stand here by their names, those of clusters with the namespace. */
export type RequestFact =
  // Names and where they lead.
  | {
      readonly code: 'query';
      readonly name: string;
      /** "A", "A and AAAA". */
      readonly types: string;
      readonly server: string;
      readonly ended:
        | { readonly is: 'passed on' | 'time-out' | 'elsewhere' }
        | { readonly is: 'answered'; readonly with: NonNullable<NameQuestion['ended']> };
      readonly why: NameReason;
    }
  | { readonly code: 'name.unknown'; readonly host: string; readonly why: NameReason }
  | { readonly code: 'name.unanswered'; readonly host: string; readonly ended: string; readonly why: NameReason }
  | { readonly code: 'address.unheld'; readonly host: string; readonly address: string; readonly isPart: boolean }
  | { readonly code: 'host.nowhere'; readonly host: string; readonly nearest: readonly string[] }
  | { readonly code: 'host.service'; readonly host: string; readonly service: string }
  | { readonly code: 'host.several'; readonly host: string; readonly balancers: readonly string[] }
  | {
      readonly code: 'host.assumed';
      readonly host: string;
      readonly balancer: string | undefined;
      readonly controller: string;
      readonly others: readonly string[];
    }
  | {
      readonly code: 'route.unserved';
      readonly form: string;
      readonly route: string;
      readonly host: string;
      readonly why: 'no gateway' | 'no class' | 'no way' | 'no listener' | 'no controller';
      readonly classes: readonly string[];
    }
  // Load balancers and their listeners.
  | { readonly code: 'controller.inside'; readonly controller: string; readonly cluster: string }
  | { readonly code: 'balancer.no-subnet'; readonly balancer: string }
  | {
      readonly code: 'balancer.no-listener';
      readonly balancer: string;
      readonly port: number;
      readonly has: readonly string[];
    }
  | { readonly code: 'balancer.open'; readonly balancer: string; readonly address: string }
  | { readonly code: 'listener.no-backend'; readonly listener: string; readonly balancer: string }
  | { readonly code: 'listener.passes'; readonly at: Speaker; readonly port: number }
  | { readonly code: 'listener.takes'; readonly at: Speaker; readonly protocol: string; readonly port: number }
  | { readonly code: 'backend.empty' | 'backend.no-service'; readonly backend: string }
  | { readonly code: 'backend.addresses'; readonly backend: string; readonly count: number }
  // TLS.
  | { readonly code: 'tls.plain'; readonly at: Speaker; readonly port: number | undefined }
  | { readonly code: 'tls.missing'; readonly at: Speaker; readonly host: string }
  | { readonly code: 'tls.missing-on'; readonly at: Speaker; readonly port: number }
  | { readonly code: 'certificate.none'; readonly at: Speaker }
  | {
      readonly code: 'certificate.unnamed';
      readonly at: Speaker;
      readonly certificate: string;
      readonly host: string;
    }
  | {
      readonly code: 'certificate.other';
      readonly at: Speaker;
      readonly certificate: string;
      readonly host: string;
      readonly names: readonly string[];
    }
  | {
      readonly code: 'certificate.covers';
      readonly certificate: string;
      readonly host: string;
      readonly names: readonly string[];
    }
  | { readonly code: 'certificate.not-granted'; readonly gateway: string; readonly certificate: string }
  // Routes.
  | {
      readonly code: 'listener.rivals';
      readonly listener: string;
      readonly rival: string;
      readonly gateway: string;
      readonly port: number;
    }
  | {
      readonly code: 'route.not-accepted' | 'route.age-unknown';
      readonly form: string;
      readonly route: string;
      readonly rivalForm: string;
      readonly rival: string;
      readonly listener: string;
      readonly gateway: string;
    }
  | { readonly code: 'route.tie'; readonly one: Rule; readonly other: Rule }
  | {
      readonly code: 'route.none';
      readonly controller: string;
      readonly host: string;
      readonly path: string;
      readonly nearest: NearestRoute;
    }
  | {
      readonly code: 'route.taken';
      readonly controller: string;
      readonly by: Rule;
      readonly hosts: readonly string[];
      readonly path: string;
    }
  | { readonly code: 'route.redirects' | 'route.sent'; readonly to: string; readonly status: number }
  | { readonly code: 'route.changes'; readonly changes: RequestChanges }
  | {
      readonly code: 'source.refused';
      readonly route: string;
      readonly allowed: readonly string[];
      readonly from: string;
      readonly hides: Instead;
    }
  | { readonly code: 'source.taken'; readonly from: string }
  | { readonly code: 'limit.kept'; readonly perMinute: number }
  | {
      readonly code: 'limit.refused';
      readonly route: string;
      readonly perMinute: number;
      readonly by: string;
      readonly asked: number;
      /** 0 to 1. */
      readonly refused: number;
      /** Seconds. */
      readonly after: number;
      readonly hides: Instead;
    }
  // Services and pods. The status is undefined where what the caller gets is none of HTTP.
  | { readonly code: 'backends.none'; readonly by: Rule; readonly status: number | undefined }
  | {
      readonly code: 'backends.gone';
      readonly by: Rule;
      readonly service: string;
      readonly status: number | undefined;
    }
  | {
      readonly code: 'backends.not-granted';
      readonly by: Rule;
      readonly service: string;
      /** The namespaces of the service and of the route. */
      readonly there: string;
      readonly here: string;
      readonly status: number | undefined;
    }
  | { readonly code: 'external.ask' | 'external.outside'; readonly service: string; readonly target: string }
  | { readonly code: 'local.endpoints' | 'local.elsewhere' | 'local.unsaid'; readonly service: string }
  | { readonly code: 'pods.hidden'; readonly cluster: string; readonly service: string; readonly balancer: string }
  | { readonly code: 'pods.hidden-from'; readonly cluster: string }
  | { readonly code: 'node-port.type' | 'service.inside'; readonly service: string; readonly type: string }
  | { readonly code: 'node-port.open'; readonly service: string; readonly port: number }
  | { readonly code: 'nodes.none' | 'range.none'; readonly cluster: string }
  | { readonly code: 'nodes.own-pods'; readonly service: string; readonly pools: readonly string[] }
  | { readonly code: 'nodes.any'; readonly service: string }
  | {
      readonly code: 'service.pods';
      readonly service: string;
      readonly pods: number;
      readonly port: number;
      readonly workloads: readonly string[];
    }
  | {
      readonly code: 'service.no-pods';
      readonly service: string;
      readonly why: 'no selector' | 'none selected' | 'none run' | 'zones lost' | 'none ready';
    }
  | { readonly code: 'service.deaf'; readonly service: string; readonly target: string; readonly workload: string }
  | { readonly code: 'service.named-endpoints'; readonly service: string; readonly target: string }
  | {
      readonly code: 'service.endpoints';
      readonly service: string;
      readonly port: number;
      readonly addresses: readonly string[];
    }
  | { readonly code: 'service.headless-port'; readonly service: string; readonly port: number }
  | {
      readonly code: 'service.no-port';
      readonly service: string;
      readonly port: number;
      readonly has: readonly string[];
    }
  | { readonly code: 'service.cluster-gone' | 'cluster.gone' }
  | { readonly code: 'controller.no-service'; readonly controller: string }
  | {
      readonly code: 'health.unreached';
      readonly backend: string;
      readonly port: number;
      readonly to: string;
      readonly failed: Failed | undefined;
    }
  | { readonly code: 'policy'; readonly decision: PolicyDecision }
  | { readonly code: 'lack'; readonly lack: Lack }
  // Other clusters.
  | {
      readonly code: 'export.idle';
      readonly cluster: string;
      readonly service: string;
      readonly blocked: BlockedWay;
    }
  | {
      readonly code: 'export.by';
      readonly service: string;
      readonly connection: string;
      /** Shares of 0 to 1; undefined where one answers all. */
      readonly shown: readonly { readonly cluster: string; readonly share: number | undefined }[];
      readonly rank: number;
    }
  | { readonly code: 'export.gone'; readonly cluster: string; readonly service: string }
  | { readonly code: 'relay.no-way'; readonly connection: string; readonly from: string; readonly to: string }
  | { readonly code: 'relay.lack'; readonly lack: Lack }
  | {
      readonly code: 'relay.down';
      readonly connection: string;
      readonly fault: TunnelFault;
      readonly failed: Failed | undefined;
    }
  // Questions that may mean several, and ports of nodes.
  | { readonly code: 'asked.nobody' | 'asked.service-gone' }
  | { readonly code: 'asked.zones'; readonly passing: number; readonly of: number }
  /** Of the workloads that may be meant those that are stopped; undefined stands for a pod of none. */
  | { readonly code: 'asked.workloads'; readonly stopped: readonly (string | undefined)[] }
  | { readonly code: 'node-port.undecided'; readonly port: number }
  | { readonly code: 'node-port.nobody'; readonly cluster: string; readonly port: number }
  | {
      readonly code:
        | 'node-port.no-pods'
        | 'node-port.of'
        | 'node-port.local-elsewhere'
        | 'node-port.local'
        | 'node-port.local-unsaid';
      readonly service: string;
    }
  // Roads that end before they come to who is called.
  | {
      readonly code: 'road.ends' | 'road.ends-as-client';
      readonly from: string;
      readonly to: string;
      /** Empty where an address stands for the whole. */
      readonly protocol: string;
      readonly port: number;
      readonly failed: Failed | undefined;
    };
