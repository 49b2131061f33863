import { formatEvent, formatLoss, formatNextHop, formatRowSource } from '@wide-lattice/core/english';
import type { FlowTrace } from '@wide-lattice/core/forwarding';
import type { Plan } from '@wide-lattice/core/plan';
import { lookUpOf } from '@wide-lattice/core/road';
import type { RoadEvent } from '@wide-lattice/core/road';
import { formatPrefix } from '@wide-lattice/core/address';
import { formatNumber } from '@wide-lattice/core/working';

/** Rows of a table that lost, told at most. */
const MAX_LOST = 4;

/** A flow for a terminal: each event with the next hop, the rows that lost and the size that fits so far. */
export function flowLines(plan: Plan, { from, aim, verdict, forth, back }: FlowTrace): string[] {
  const service = aim.port === 0 ? aim.protocol : `${aim.protocol} ${aim.port}`;
  return [
    `${from.label} to ${aim.label}, ${service}: ${verdict}`,
    ...forth.flatMap((event) => eventLines(plan, 'there', event)),
    ...back.flatMap((event) => eventLines(plan, 'back', event)),
  ];
}

function eventLines(plan: Plan, way: string, event: RoadEvent): string[] {
  const found = lookUpOf(event)?.found;
  const row = found?.row;
  const hop = row === undefined ? '' : ` Next hop: ${formatNextHop(plan, row)}.`;
  const room = Number.isFinite(event.room) ? ` [${formatNumber(event.room)} bytes]` : '';
  const lost = (found?.lost ?? []).slice(0, MAX_LOST);
  return [
    `  ${way.padEnd(5)} ${event.event.padEnd(10)} ${formatEvent(plan, event)}${hop}${room}`,
    ...lost.map(
      (each) =>
        `                     lost: ${formatPrefix(each.row.prefix)} to ${formatNextHop(plan, each.row)}, ${formatRowSource(plan, each.row)} (${formatLoss(row, each.row, each.why)})`,
    ),
  ];
}
