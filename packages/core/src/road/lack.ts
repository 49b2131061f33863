import type { Address, Family } from '../address/index.js';

/** What the plan does not say yet, so that a question cannot be followed. */
export type Lack =
  | { readonly code: 'host.gone'; readonly what: 'cluster' | 'bastion' | 'range in use' | 'need' }
  | {
      readonly code: 'host.no-range';
      readonly clusterId: string;
      readonly purpose: 'node' | 'pod';
      readonly family: Family;
      /** Empty where any zone would do. */
      readonly zone: string;
    }
  /** All of its nodes that are meant are in zones that are lost. */
  | { readonly code: 'host.zone-lost'; readonly clusterId: string }
  /** A pod on the node of who asks, where that is no node of the cluster, or none on which such a pod runs. */
  | { readonly code: 'host.not-its-node'; readonly clusterId: string; readonly isOther: boolean }
  | { readonly code: 'host.not-held'; readonly networkId: string; readonly address: Address }
  | { readonly code: 'host.nowhere'; readonly inUseId: string }
  | { readonly code: 'need.no-endpoint'; readonly needId: string }
  | { readonly code: 'need.family'; readonly needId: string; readonly family: Family }
  /** Rules and routes tell more parts of it apart than are followed. */
  | { readonly code: 'need.parts'; readonly needId: string; readonly count: number; readonly max: number }
  | { readonly code: 'range.parts'; readonly inUseId: string; readonly count: number; readonly max: number }
  | { readonly code: 'gateway.none'; readonly clusterId: string; readonly isCutOff: boolean }
  | { readonly code: 'gateway.mute'; readonly clusterId: string; readonly index: number }
  | { readonly code: 'tunnel.cut'; readonly clusterIds: readonly [string, string] }
  | { readonly code: 'trace.nothing' }
  /** Nothing of the plan lies on the way, nor at either end. */
  | { readonly code: 'trace.elsewhere'; readonly address: Address };

/** What was looked for, or what the plan lacks to find it. */
export type Found<T> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly lack: Lack };

/** Wraps what was found. */
export function found<T>(value: T): { readonly ok: true; readonly value: T } {
  return { ok: true, value };
}

/** Takes what is known to be found; throws when it is not, since then the caller is wrong. */
export function expectFound<T>(result: Found<T>): T {
  if (result.ok) return result.value;
  throw new Error(result.lack.code);
}

/** Wraps what the plan lacks. */
export function lacking(lack: Lack): { readonly ok: false; readonly lack: Lack } {
  return { ok: false, lack };
}
