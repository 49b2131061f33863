import type { Names } from '../names.js';

/** What is said of a finding. */
export interface FindingWords {
  readonly title: string;
  readonly detail: string;
  /** How it comes about, step by step; left out where the detail says it all. */
  readonly chain?: readonly string[];
}

/** What is said of findings, each by its code, from facts of its own and the names of the plan. */
export type FindingTable = Readonly<Record<string, (fact: never, names: Names) => FindingWords>>;

/** A range as findings name it: of a pool, or of a cluster for a purpose. */
export type Owner =
  | { readonly is: 'pool'; readonly pool: string }
  | { readonly is: 'subnet'; readonly subnet: string }
  | { readonly is: 'range'; readonly cluster: string; readonly purpose: string };

/** What begins a title about a range. */
export function formatOwner(owner: Owner): string {
  switch (owner.is) {
    case 'pool':
      return `Pool ${owner.pool}`;
    case 'subnet':
      return `Subnet ${owner.subnet}`;
    case 'range':
      return `${owner.cluster}: the ${owner.purpose} range`;
  }
}

/** " in zone a", or nothing for what is in all of them. */
export function inZone(zone: string): string {
  return zone === '' ? '' : ` in zone ${zone}`;
}

/** Sentences one after the other; those that do not apply are empty. */
export function sentences(...all: readonly string[]): string {
  return all.filter((each) => each !== '').join(' ');
}
