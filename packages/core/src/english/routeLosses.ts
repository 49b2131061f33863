import type { RouteLoss } from '../road/index.js';
import { formatByCode } from './words.js';
import type { Of, Words } from './words.js';

/** Why a route does not get a call, to follow a colon. */
export function formatRouteLoss(loss: RouteLoss): string {
  return formatByCode(words, loss);
}

const formatCondition = ({ code, name, value, isPattern }: Of<RouteLoss, 'header' | 'parameter'>) =>
  `the ${code} ${name} is not ${isPattern ? `as ${value} says` : value}`;

const words: Words<RouteLoss, string, []> = {
  'path.exact': ({ path }) => `its path is exactly ${path}`,
  'path.prefix': ({ path }) => `the path does not begin with ${path}`,
  'path.pattern': ({ path }) => `the path does not match ${path}`,
  'path.no-pattern': ({ path }) => `${path} is not a regular expression`,
  method: ({ method }) => `it is for ${method}`,
  header: formatCondition,
  parameter: formatCondition,
  'other-listener': () => 'it does not attach to the listener that gets the call, or is not accepted there',
  'host.own-rules': () => 'a more specific host has rules of its own',
  'host.more-precise': () => 'the winner’s host is more precise',
  'path.is-exact': () => 'the winner’s path is exact',
  'path.longer': () => 'the winner’s path is longer',
  'path.pattern-first': () => 'regular expressions come before prefixes here; a controller may order them otherwise',
  'method.named': () => 'the winner names a method',
  'headers.more': () => 'the winner asks for more headers',
  'parameters.more': () => 'the winner asks for more query parameters',
  older: () => 'the winner is older',
  alphabet: () => 'the winner’s name comes first in the alphabet',
  'rule.earlier': () => 'the winner is the earlier rule of the object',
  first: () => 'the winner stands first',
};
