import type { Plan } from '@wide-lattice/core/plan';

/** Whether anything of the plan is marked as planned. */
export function hasPlanned({ links, attachments, connections }: Plan): boolean {
  return [links, attachments, connections].some((all) => all.some(({ isPlanned }) => isPlanned));
}
