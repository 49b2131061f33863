import { formatNumber } from '@wide-lattice/core/working';
import type { Raise } from '@wide-lattice/core/sizing';
import { formatMoney } from '@wide-lattice/core/money';
import { mostNodes } from '@wide-lattice/core/sizing';
import { Fragment, useState } from 'react';
import { FigureButton } from '../shared/FigureButton';
import { formatMonth } from '../shared/formatMonth';
import type { ClusterSheet } from '../worker/slices/clusterSheet';
import { TableHead } from '../shared/TableHead';

/** Limits this many times the horizon away are folded. */
const FAR = 2;
/** The scale ends a little above the horizon; what lies beyond is cut off with an arrow. */
const SCALE = 1.5;

/** Every limit of a cluster on one scale, nodes, with the cheapest way to raise those that are near. */
export function LimitList({ sheet }: { readonly sheet: ClusterSheet }) {
  const [isAll, setAll] = useState(false);
  const { limits, nodesNow, nodesHorizon } = sheet;
  const most = mostNodes({ nodesNow, nodesHorizon });
  const near = limits.filter(({ nodes }, i) => i < 3 || nodes.value < FAR * most);
  const shown = isAll ? limits : near;
  return (
    <>
      <table className="w-full table-fixed" aria-label="What runs out first">
        <colgroup>
          <col />
          <col className="w-24" />
          <col className="w-16" />
          <col className="w-24" />
        </colgroup>
        <TableHead labels={['Limit', 'Scale', 'Nodes', 'Exceeded']} rightFrom={2} />
        <tbody>
          {shown.map(({ name, nodes, month, raises }) => {
            const isOver = most > nodes.value;
            const [cheapest] = raises;
            return (
              <Fragment key={name}>
                <tr>
                  <th scope="row" className={`py-0.5 text-left ${isOver ? 'text-error font-semibold' : 'font-normal'}`}>
                    {name}
                  </th>
                  <td>
                    <Bar sheet={sheet} nodes={nodes.value} isOver={isOver} />
                  </td>
                  <td className={`text-right ${isOver ? 'text-error font-semibold' : ''}`}>
                    <FigureButton figure={nodes}>{formatNumber(nodes.value)}</FigureButton>
                  </td>
                  <td className={`text-right ${isOver ? 'text-error font-semibold' : ''}`}>
                    <FigureButton figure={month}>{formatMonth(month.value)}</FigureButton>
                  </td>
                </tr>
                {cheapest !== undefined && nodes.value < FAR * most && (
                  <tr>
                    <td
                      colSpan={4}
                      className="quiet pb-1 text-xs"
                      title={raises.slice(1).map(formatRaise).join(' Or: ')}
                    >
                      Cheapest: {formatRaise(cheapest)}
                    </td>
                  </tr>
                )}
              </Fragment>
            );
          })}
        </tbody>
      </table>
      {near.length < limits.length && (
        <button type="button" className="btn btn-ghost btn-xs mt-1" onClick={() => setAll(!isAll)}>
          {isAll ? 'Near limits only' : `${limits.length - near.length} farther away`}
        </button>
      )}
    </>
  );
}

function Bar({
  sheet,
  nodes,
  isOver,
}: {
  readonly sheet: ClusterSheet;
  readonly nodes: number;
  readonly isOver: boolean;
}) {
  const whole = Math.max(1, SCALE * mostNodes(sheet));
  const at = (value: number) => `${Math.min(100, (100 * value) / whole)}%`;
  const mark = (value: number, look: string) => (
    <span className={`absolute -inset-y-0.5 w-0.5 ${look}`} style={{ left: `calc(${at(value)} - 1px)` }} />
  );
  return (
    <span className="bg-base-200 relative block h-2" aria-hidden>
      <span
        className="absolute inset-y-0 left-0"
        style={{ width: at(nodes), background: isOver ? 'var(--color-error)' : 'var(--purpose-node)' }}
      />
      {mark(sheet.nodesNow, 'bg-base-content opacity-50')}
      {mark(sheet.nodesHorizon, 'bg-base-content')}
      {nodes > whole && <span className="absolute -top-1 right-0 text-[0.6rem] leading-none">›</span>}
    </span>
  );
}

/** A way to raise a limit in a sentence, with what it costs. */
function formatRaise({ words, addresses, monthly, isRebuild }: Raise): string {
  const costs = [
    ...(addresses > 0 ? [`${formatNumber(addresses)} addresses`] : []),
    ...(monthly === null ? ['price not known'] : monthly === 0 ? [] : [`${formatMoney(monthly)} per month`]),
    ...(isRebuild ? ['a rebuild'] : []),
  ];
  return costs.length === 0 ? words : `${words} Costs ${costs.join(', ')}.`;
}
