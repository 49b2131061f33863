import type { RouteLoss } from '../road/index.js';

/** Why a route does not get a call, to follow a colon. */
export function sayRouteLoss(loss: RouteLoss): string {
  switch (loss.code) {
    case 'path.exact':
      return `its path is exactly ${loss.path}`;
    case 'path.prefix':
      return `the path does not begin with ${loss.path}`;
    case 'path.pattern':
      return `the path does not match ${loss.path}`;
    case 'path.no-pattern':
      return `${loss.path} is not a regular expression`;
    case 'method':
      return `it is for ${loss.method}`;
    case 'header':
    case 'parameter':
      return `the ${loss.code} ${loss.name} is not ${loss.isPattern ? `as ${loss.value} says` : loss.value}`;
    default:
      return winners[loss.code];
  }
}

type Bare<Each = RouteLoss> = Each extends { readonly code: infer Code }
  ? keyof Each extends 'code'
    ? Code
    : never
  : never;

const winners: { readonly [Code in Bare]: string } = {
  'other-listener': 'it does not attach to the listener that gets the call, or is not accepted there',
  'host.own-rules': 'a more specific host has rules of its own',
  'host.more-precise': 'the winner’s host is more precise',
  'path.is-exact': 'the winner’s path is exact',
  'path.longer': 'the winner’s path is longer',
  'path.pattern-first': 'regular expressions come before prefixes here; a controller may order them otherwise',
  'method.named': 'the winner names a method',
  'headers.more': 'the winner asks for more headers',
  'parameters.more': 'the winner asks for more query parameters',
  older: 'the winner is older',
  alphabet: 'the winner’s name comes first in the alphabet',
  'rule.earlier': 'the winner is the earlier rule of the object',
  first: 'the winner stands first',
};
