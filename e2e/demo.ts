import { kinds } from '@wide-lattice/core/plan';
import { demoPlan } from '@wide-lattice/core/demo';

const demo = demoPlan();

/** The id of what is called so in the demo; every copy of the demo keeps its ids. */
export function idOf(name: string): string {
  for (const kind of kinds) {
    const found = (demo[kind] as readonly { id: string; name?: string }[]).find((each) => each.name === name);
    if (found !== undefined) return found.id;
  }
  throw new Error(`Nothing in the demo is called "${name}".`);
}

/** The page of a cluster of the demo, below its plan. */
export function pageOf(clusterName: string): string {
  return `clusters/${idOf(clusterName)}`;
}
