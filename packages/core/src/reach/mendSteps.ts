import type { IcmpMessage, Operation } from '../plan/index.js';
import type { Packet } from '../road/index.js';

/** What a rule or a range is for, as it is named. */
export type NamedFor =
  | { readonly is: 'prefixes'; readonly prefixes: readonly string[] }
  | { readonly is: 'set'; readonly set: string }
  | { readonly is: 'internet' };

/** What a packet is of, as a rule names it: its ports and its kind of ICMP message where it has any. */
export interface ServiceNamed {
  readonly protocol: Packet['protocol'];
  readonly ports: readonly string[];
  readonly icmp: readonly IcmpMessage[];
}

/** One change of a row. Rows are told by their names, since those that a step before has made are in no plan yet. */
export type MendStep =
  | {
      readonly do: 'filter rule';
      readonly position: number;
      readonly filter: string;
      readonly service: ServiceNamed;
      readonly direction: 'in' | 'out';
      readonly peers: NamedFor;
    }
  | {
      readonly do: 'firewall rule';
      readonly position: number;
      readonly firewall: string;
      readonly service: ServiceNamed;
      readonly from: NamedFor;
      readonly to: NamedFor;
    }
  | {
      readonly do: 'route';
      readonly table: string;
      readonly isTableNew: boolean;
      readonly prefix: string;
      readonly hop: Hop;
      /** Whether it is for answers, which have to pass the device too. */
      readonly isForAnswers: boolean;
    }
  | { readonly do: 'next hop'; readonly table: string; readonly prefix: string; readonly hop: Hop }
  | { readonly do: 'remove route' }
  | { readonly do: 'learn'; readonly network: string; readonly from: string; readonly link: string }
  | { readonly do: 'advertise'; readonly network: string; readonly prefix: string; readonly link: string }
  | {
      readonly do: 'translate';
      readonly cluster: string;
      readonly to: NamedFor;
      /** The prefixes of the cluster’s field that it is taken out of. */
      readonly outOf: readonly string[];
    }
  | { readonly do: 'mtu'; readonly network: string; readonly before: number; readonly after: number };

/** Where a route leads, by name. */
export interface Hop {
  readonly is: 'nat' | 'firewall' | 'link';
  readonly name: string;
}

/** A change that may let a packet pass; it still has to be tried. */
export interface Candidate {
  readonly step: MendStep;
  readonly operations: readonly Operation[];
}
