import type { FieldProblem } from './rules.js';
import { wrong } from './rules.js';

// RFC 1123 2.1 in lower case: what the Kubernetes API takes as the name of a namespace, a service, most other objects.
const label = /^[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?$/;

/** What is wrong with a text that has to be a DNS label. */
export function notDnsLabel(field: string, text: string, code = 'dns-label'): FieldProblem[] {
  if (label.test(text)) return [];
  return [
    wrong(
      field,
      code,
      `“${text}” is no DNS label.`,
      'Use lower-case letters, digits and hyphens, at most 63, with a letter or digit at both ends.',
    ),
  ];
}

/** Names and namespaces that the Kubernetes API would refuse. */
export function notDnsLabels(named: { readonly name: string; readonly namespace: string }): FieldProblem[] {
  return (['name', 'namespace'] as const).flatMap((field) => notDnsLabel(field, named[field]));
}
