import type { Plan } from './entities.js';
import { setOperation } from './operations.js';
import type { Operation } from './operations.js';

type Planned = Pick<Plan, 'links' | 'attachments' | 'connections'>;

/** Whether anything of the plan is marked as planned. */
export function hasPlanned({ links, attachments, connections }: Planned): boolean {
  return [links, attachments, connections].some((all) => all.some(({ isPlanned }) => isPlanned));
}

/** The change by which all that is planned stands: links, what networks advertise over them, connections. Nothing where all stands. */
export function plannedMade({ links, attachments, connections }: Planned): Operation[] {
  const planned = (each: { readonly isPlanned: boolean }) => each.isPlanned;
  return [
    ...links.filter(planned).map(({ id }) => setOperation('links', id, { isPlanned: false })),
    ...attachments.filter(planned).map(({ id }) => setOperation('attachments', id, { isPlanned: false })),
    ...connections.filter(planned).map(({ id }) => setOperation('connections', id, { isPlanned: false })),
  ];
}
