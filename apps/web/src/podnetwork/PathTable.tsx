import { formatNumber } from '@wide-lattice/core/working';
import { FigureButton } from '../shared/FigureButton';
import { Part } from '../shared/Halves';
import { SeverityMark } from '../shared/Marks';
import type { PodNetworkSheet } from '../worker/slices/podNetwork';
import { TableHead } from '../shared/TableHead';

/** The largest packet on every way that the cluster's packets take, and the BGP sessions that routed pods would need. */
export function PathTable({ sheet }: { readonly sheet: PodNetworkSheet }) {
  return (
    <>
      <Part title={`Packets of ${sheet.clusterName}`}>
        <table className="w-full" aria-label={`Packets of ${sheet.clusterName}`}>
          <TableHead labels={['To', 'By', 'Largest packet', 'TCP segment', 'Efficiency']} rightFrom={2} />
          <tbody>
            {sheet.paths.map(({ to, by, packet, segment, efficiency, isNarrowing, isPlanned }) => (
              <tr key={to} className="rule-b">
                <th scope="row" className="py-1 text-left font-normal">
                  {to} {isPlanned && <span className="text-warning">planned</span>}
                </th>
                <td>{by}</td>
                <td className="text-right">
                  <span className="inline-flex items-center gap-2">
                    {isNarrowing && <SeverityMark severity="warning" />}
                    <FigureButton figure={packet}>{formatNumber(packet.value)}</FigureButton>
                  </span>
                </td>
                <td className="text-right">
                  <FigureButton figure={segment}>{formatNumber(segment.value)}</FigureButton>
                </td>
                <td className="text-right">
                  <FigureButton figure={efficiency}>{efficiency.value} %</FigureButton>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <p className="quiet mt-2">
          A warning marks a way on which packets that leave whole meet a smaller link: large packets get through only
          while the messages of path MTU discovery do.
        </p>
      </Part>
      <Part title="BGP, were the pods routed by it">
        <dl className="grid grid-cols-[1fr_auto] gap-x-4">
          {sheet.sessions.map(({ label, figure }) => (
            <div key={label} className="contents">
              <dt className="quiet">{label}</dt>
              <dd className="text-right">
                <FigureButton figure={figure}>{formatNumber(figure.value)}</FigureButton>
              </dd>
            </div>
          ))}
        </dl>
      </Part>
    </>
  );
}
