import type { Failed, TunnelFault } from './failure.js';
import type { Lack } from './lack.js';

/** Why calls of a cluster do not come to a member that exports a service. */
export type BlockedWay =
  | { readonly code: 'export.no-service'; readonly cluster: string; readonly service: string }
  | { readonly code: 'export.not-there' | 'export.no-hub'; readonly connection: string }
  | { readonly code: 'export.lack'; readonly lack: Lack }
  | { readonly code: 'export.fault'; readonly fault: TunnelFault; readonly failed: Failed | undefined };

/**
 * Why a question for a name is answered as it is, or passed on. Zones, services, resolvers and the like stand here by their
 * names, services with their namespace.
 */
export type NameReason =
  /** What a cluster’s DNS says of names in its domain. */
  | { readonly code: 'domain.itself' | 'domain.above-services' | 'domain.namespace' }
  | { readonly code: 'domain.below'; readonly domain: string }
  | { readonly code: 'domain.no-namespace'; readonly namespace: string }
  | { readonly code: 'service.answers' | 'service.of-address'; readonly service: string }
  | {
      readonly code: 'service.none' | 'service.nothing-below' | 'service.not-headless' | 'service.no-pods';
      readonly service: string;
    }
  | { readonly code: 'pod.nothing-below' }
  | { readonly code: 'pod.no-host'; readonly host: string }
  | { readonly code: 'type.none' | 'type.no-endpoint'; readonly type: string }
  | { readonly code: 'port.above' | 'port.type' }
  | { readonly code: 'port.none-named'; readonly protocol: string }
  | { readonly code: 'port.unknown'; readonly port: string; readonly protocol: string }
  | { readonly code: 'port.no-pod'; readonly service: string; readonly port: string }
  | { readonly code: 'address.undecided' | 'address.of-nobody' | 'address.type' }
  /** What it says of names of connections. */
  | { readonly code: 'export.planned'; readonly connection: string }
  | { readonly code: 'export.answers'; readonly name: string; readonly connection: string }
  | { readonly code: 'export.none'; readonly name: string; readonly cluster: string }
  | { readonly code: 'export.not-reached'; readonly service: string; readonly blocked: readonly BlockedWay[] }
  | { readonly code: 'export.no-pod'; readonly service: string }
  /** What passes a question on. */
  | {
      readonly code: 'passed.cluster';
      readonly server: string;
      readonly to:
        | { readonly is: 'stub'; readonly domain: string }
        | { readonly is: 'upstream' }
        | { readonly is: 'network'; readonly network: string };
    }
  | { readonly code: 'passed.rule'; readonly server: string; readonly rule: string }
  | { readonly code: 'passed.address'; readonly asker: string; readonly server: string; readonly by: string }
  /** What ends it on the way. */
  | { readonly code: 'held'; readonly workload: string }
  | { readonly code: 'nothing-asked' | 'no-resolver' }
  | { readonly code: 'aliases'; readonly name: string; readonly most: number; readonly chain: readonly string[] }
  | { readonly code: 'forward.loop'; readonly server: string }
  | {
      readonly code: 'no-answer';
      readonly asker: string;
      readonly address: string;
      readonly by: string;
      readonly failed: Failed | undefined;
    }
  | { readonly code: 'resolver.outbound'; readonly resolver: string; readonly address: string }
  | { readonly code: 'resolver.unknown'; readonly address: string }
  /** What zones say. */
  | { readonly code: 'zone.answers'; readonly zone: string; readonly wildcard: string | undefined }
  | {
      readonly code: 'zone.alias';
      readonly zone: string;
      readonly wildcard: string | undefined;
      readonly target: string;
    }
  | {
      readonly code: 'zone.no-data';
      readonly zone: string;
      readonly wildcard: string | undefined;
      readonly name: string;
      readonly type: string;
    }
  | { readonly code: 'zone.no-name'; readonly zone: string; readonly name: string }
  | {
      readonly code: 'delegation.unknown-there' | 'delegation.no-glue';
      readonly cut: string;
      readonly servers: readonly string[];
    }
  | { readonly code: 'delegation.elsewhere'; readonly zone: string; readonly cut: string }
  /** What the public DNS says. */
  | { readonly code: 'public.reserved'; readonly domain: string }
  | { readonly code: 'public.undelegated'; readonly apex: string }
  | { readonly code: 'public.free' | 'public.no-zone'; readonly name: string }
  | { readonly code: 'balancer.undecided' | 'balancer.answers'; readonly name: string; readonly balancer: string }
  | { readonly code: 'balancer.type'; readonly balancer: string; readonly type: string };
