import type { TextForm } from './kinds/field.js';

/** One step of growth: this many nodes from that month on. */
export interface GrowthStep {
  readonly month: number;
  readonly nodes: number;
}

/** Reads "6=40"; undefined when it is none. Months 1 to 1,200, nodes 0 to 20,000. */
export function readStep(text: string): GrowthStep | undefined {
  const found = /^(\d{1,4})=(\d{1,5})$/.exec(text);
  if (found === null) return undefined;
  const [month, nodes] = [Number(found[1]), Number(found[2])];
  return month >= 1 && month <= 1200 && nodes <= 20_000 ? { month, nodes } : undefined;
}

// Kubernetes API: names and values are at most 63 characters of letters, digits, "-", "_" and ".", and begin and end with a letter or digit;
// a name may have a DNS subdomain before it. From memory of the documentation on labels and taints.
const word = '[A-Za-z0-9](?:[A-Za-z0-9._-]{0,61}[A-Za-z0-9])?';
const subdomain = '[a-z0-9](?:[a-z0-9.-]{0,251}[a-z0-9])?';
const labelPattern = new RegExp(`^(?:${subdomain}/)?${word}(?:=(?:${word})?)?$`);
const taintPattern = new RegExp(
  `^(?:${subdomain}/)?${word}(?:=(?:${word})?)?:(?:NoSchedule|PreferNoSchedule|NoExecute)$`,
);

/** How a text of each form is written, for messages. Fixes are read by the rules of their fields. */
export const formExamples: Readonly<Record<Exclude<TextForm, 'fix'>, string>> = {
  label: 'a label such as tier=edge',
  taint: 'a taint such as dedicated=edge:NoSchedule',
  step: 'a step such as 6=40: month and nodes',
};

/** Whether a text has that form. */
export function hasForm(form: Exclude<TextForm, 'fix'>, text: string): boolean {
  switch (form) {
    case 'label':
      return labelPattern.test(text);
    case 'taint':
      return taintPattern.test(text);
    case 'step':
      return readStep(text) !== undefined;
  }
}
