import { formatByCode } from './words.js';
import type { Words } from './words.js';

/** What is between two members of a connection, or between a member and a service that others export. Clusters and services stand by their names. */
export type PairFact =
  | { readonly code: 'families'; readonly one: Speaks; readonly other: Speaks }
  | { readonly code: 'service.no-pod' | 'service.none-ready'; readonly service: string }
  | { readonly code: 'service.deaf'; readonly service: string; readonly ports: readonly string[] }
  /** Why, in a sentence. */
  | { readonly code: 'policies' | 'answers-lost'; readonly why: string }
  | { readonly code: 'relay.not-reached'; readonly cluster: string; readonly why: string }
  | { readonly code: 'range.no-service'; readonly cluster: string }
  | {
      readonly code: 'range.own';
      readonly shownBy: string;
      readonly of: string;
      readonly purpose: string;
      readonly prefix: string;
    }
  | { readonly code: 'range.two'; readonly one: string; readonly other: string; readonly prefix: string }
  | { readonly code: 'use.closed' | 'use.no-weight' }
  | { readonly code: 'use.answered' | 'use.by-name'; readonly from: readonly string[] }
  | {
      readonly code: 'use.in-part';
      readonly from: readonly string[];
      readonly cluster: string;
      readonly why: string;
    };

/** The one family of addresses that a cluster has. */
interface Speaks {
  readonly cluster: string;
  readonly family: 4 | 6;
}

const formatOnly = ({ cluster, family }: Speaks) => `${cluster} has IPv${family} only`;

/** The same in a sentence. */
export function formatPair(fact: PairFact): string {
  return formatByCode(words, fact);
}

const words: Words<PairFact, string, []> = {
  families: ({ one, other }) => `${formatOnly(one)} and ${formatOnly(other)}: nothing passes between them.`,
  'service.no-pod': ({ service }) => `No pod is behind ${service}.`,
  'service.none-ready': ({ service }) => `No pod behind ${service} is ready.`,
  'service.deaf': ({ service, ports }) => `The pods behind ${service} do not listen on ${ports.join(', ')}.`,
  policies: ({ why }) => `Network policies refuse it: ${why}`,
  'answers-lost': ({ why }) => `The answers do not come back: ${why}`,
  'relay.not-reached': ({ cluster, why }) => `Pods of ${cluster} do not reach their relay. ${why}`,
  'range.no-service': ({ cluster }) => `${cluster} has no service range yet.`,
  'range.own': ({ shownBy, purpose, prefix, of }) =>
    `What ${shownBy} shows lies in the ${purpose} range ${prefix} of ${of} itself, whose nodes keep it inside.`,
  'range.two': ({ one, other, prefix }) =>
    `${one} advertises ${prefix}, and so does ${other}: the destination is ambiguous.`,
  'use.closed': () => 'Its exporters are not open to this cluster.',
  'use.no-weight': () => 'Every exporter has the weight 0: no exporter answers.',
  'use.answered': ({ from }) => `Answered by ${from.join(', ')}.`,
  'use.by-name': ({ from }) =>
    `Answered by ${from.join(', ')} only by the name of the service: its pods are not mirrored.`,
  'use.in-part': ({ from, cluster, why }) => `Answered by ${from.join(', ')}; ${cluster} is not reached. ${why}`,
};
