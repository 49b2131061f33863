import type { Kind } from '../plan/index.js';

/** A place on the road where something is decided: what it is, and the name it goes by. Hosts that nobody entered have no id. */
export interface Spot {
  readonly kind:
    | 'pod'
    | 'node'
    | 'machine'
    | 'subnet'
    | 'network'
    | 'link'
    | 'NAT device'
    | 'firewall'
    | 'endpoint'
    | 'bastion'
    | 'balancer'
    | 'resolver'
    | 'internet';
  readonly name: string;
}

/** An entity of the plan. */
export interface Subject {
  readonly kind: Kind;
  readonly id: string;
}
