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

const sayOnly = ({ cluster, family }: Speaks) => `${cluster} has IPv${family} only`;

/** The same in a sentence. */
export function sayPair(fact: PairFact): string {
  switch (fact.code) {
    case 'families':
      return `${sayOnly(fact.one)} and ${sayOnly(fact.other)}: nothing passes between them.`;
    case 'service.no-pod':
      return `No pod is behind ${fact.service}.`;
    case 'service.none-ready':
      return `No pod behind ${fact.service} is ready.`;
    case 'service.deaf':
      return `The pods behind ${fact.service} do not listen on ${fact.ports.join(', ')}.`;
    case 'policies':
      return `Network policies refuse it: ${fact.why}`;
    case 'answers-lost':
      return `The answers do not come back: ${fact.why}`;
    case 'relay.not-reached':
      return `Pods of ${fact.cluster} do not reach their relay. ${fact.why}`;
    case 'range.no-service':
      return `${fact.cluster} has no service range yet.`;
    case 'range.own':
      return `What ${fact.shownBy} shows lies in the ${fact.purpose} range ${fact.prefix} of ${fact.of} itself, whose nodes keep it inside.`;
    case 'range.two':
      return `${fact.one} advertises ${fact.prefix}, and so does ${fact.other}: the destination is ambiguous.`;
    case 'use.closed':
      return 'Its exporters are not open to this cluster.';
    case 'use.no-weight':
      return 'Every exporter has the weight 0: no exporter answers.';
    case 'use.answered':
      return `Answered by ${fact.from.join(', ')}.`;
    case 'use.by-name':
      return `Answered by ${fact.from.join(', ')} only by the name of the service: its pods are not mirrored.`;
    case 'use.in-part':
      return `Answered by ${fact.from.join(', ')}; ${fact.cluster} is not reached. ${fact.why}`;
  }
}
