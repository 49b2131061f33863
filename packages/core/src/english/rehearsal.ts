import type { FindingCode } from './findings/index.js';
import type { LimitCode } from '../sizing/index.js';
import { formatCount, formatNumber } from '../working/index.js';

/** Why a step never comes to be, as a fact; `key` is of the finding that says so, empty where there is none. */
export type Refusal =
  | { readonly why: 'finding'; readonly key: string; readonly code: FindingCode; readonly title: string }
  /** A limit of its cluster holds fewer nodes. */
  | {
      readonly why: 'limit';
      readonly key: string;
      readonly limit: LimitCode;
      readonly name: string;
      readonly holds: number;
    }
  /** A quota, a table or a subnet is full. */
  | {
      readonly why: 'full';
      readonly key: string;
      readonly of: FullThing;
      readonly name: string;
      readonly holds: number;
    }
  /** A cluster has a pod network already. */
  | { readonly why: 'second pod network'; readonly key: '' };

/** What holds a number of things and no more. */
export type FullThing = 'subnet' | 'clusters at a site' | 'peerings of a network' | 'route table';

/** Seconds as people say them: "45 s", "12 min 30 s", "1 h 05 min", "3 days 4 h". */
export function formatDuration(seconds: number): string {
  const whole = Math.round(seconds);
  const [days, hours] = [Math.floor(whole / 86_400), Math.floor((whole % 86_400) / 3600)];
  const [minutes, rest] = [Math.floor((whole % 3600) / 60), whole % 60];
  if (days > 0) return `${formatCount(days, 'day')}${hours === 0 ? '' : ` ${hours} h`}`;
  if (hours > 0) return `${hours} h${minutes === 0 ? '' : ` ${String(minutes).padStart(2, '0')} min`}`;
  if (minutes > 0) return `${minutes} min${rest === 0 ? '' : ` ${rest} s`}`;
  return `${rest} s`;
}

const limitReasons: Partial<Readonly<Record<LimitCode, string>>> = {
  'node-subnets': 'NodeSubnetFull',
  'pod-subnets': 'PodSubnetFull',
  'pod-range': 'PodRangeExhausted',
  'nodes-per-cluster': 'QuotaExceeded',
  'public-addresses': 'PublicAddressesExhausted',
  'routes-per-table': 'RouteTableFull',
  'snat-ports': 'SnatPortsExhausted',
};

const fullReasons: Readonly<Record<FullThing, string>> = {
  subnet: 'SubnetFull',
  'clusters at a site': 'QuotaExceeded',
  'peerings of a network': 'QuotaExceeded',
  'route table': 'RouteTableFull',
};

/** The reason of a condition that never comes true, in one word as the Kubernetes API writes them. */
export function reasonOf(refusal: Refusal): string {
  switch (refusal.why) {
    case 'finding':
      return refusal.code
        .split(/[.-]/)
        .map((part) => part.slice(0, 1).toUpperCase() + part.slice(1))
        .join('');
    case 'limit':
      return limitReasons[refusal.limit] ?? 'LimitReached';
    case 'full':
      return fullReasons[refusal.of];
    case 'second pod network':
      return 'PodNetworkExists';
  }
}

/** Why a step never comes to be, in a sentence. */
export function formatRefusal(refusal: Refusal): string {
  switch (refusal.why) {
    case 'finding':
      return `${refusal.title}.`;
    case 'limit':
      return `${refusal.name}: it holds ${formatCount(refusal.holds, 'node')}, and this is one more.`;
    case 'full':
      return formatFull(refusal);
    case 'second pod network':
      return 'The cluster has a pod network already, and only one may be installed.';
  }
}

function formatFull({ of, name, holds }: Extract<Refusal, { readonly why: 'full' }>): string {
  switch (of) {
    case 'subnet':
      return `Subnet ${name} has no address left: its ${formatCount(holds, 'usable address', 'usable addresses')} are taken.`;
    case 'clusters at a site':
      return `${name} holds ${formatCount(holds, 'cluster')}, and this is one more. Ask for a higher quota.`;
    case 'peerings of a network':
      return `${name} may have ${formatCount(holds, 'peering')}, and this is one more.`;
    case 'route table':
      return `Table ${name} is full: it has room for ${formatNumber(holds)} of these routes.`;
  }
}

/** What an object waits for, by name: the first three, and how many more. */
export function formatWaiting(names: readonly string[], isForever: boolean): string {
  const shown = names.slice(0, 3).join(', ');
  const more = names.length > 3 ? ` and ${formatNumber(names.length - 3)} more` : '';
  return isForever ? `Waits for ${shown}${more}, which never comes to be.` : `Waits for ${shown}${more}.`;
}

/** What a step does while it is made, or while it waits for its turn. */
export function formatUnderway(left: number): string {
  return `In progress for ${formatDuration(left)} more.`;
}

/** All is there, but the site carries out no more of these at once. */
export const WAITS_FOR_TURN = 'Waits for its turn: the site carries out no more of these at once.';

/** A run that cannot be made: more comes up than it holds. */
export function formatTooManyObjects(objects: number, most: number): string {
  return `${formatNumber(objects)} nodes would come up, and a rehearsal holds ${formatNumber(most)} objects. Choose one site or template.`;
}
