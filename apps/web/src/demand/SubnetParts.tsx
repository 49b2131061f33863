import { formatNumber } from '@wide-lattice/core/working';
import { FigureButton } from '../shared/FigureButton';
import { Part } from '../shared/Halves';
import type { ClusterSheet } from '../worker/slices/clusterSheet';

/** What each node subnet has to hold at the horizon, thing by thing. */
export function SubnetParts({ sheet }: { readonly sheet: ClusterSheet }) {
  const names = [...new Set(sheet.subnets.flatMap(({ parts }) => parts.map(({ name }) => name)))];
  const find = (subnet: ClusterSheet['subnets'][number], name: string) =>
    subnet.parts.find((part) => part.name === name)?.addresses ?? 0;
  return (
    <Part title="What each node subnet holds">
      <table className="w-full" aria-label="What each node subnet holds">
        <thead>
          <tr className="quiet rule-b text-left">
            <th className="font-normal">IPv4 addresses at the horizon</th>
            {sheet.subnets.map(({ zone }) => (
              <th key={zone} className="text-right font-normal">
                {zone === '' ? 'whole site' : `zone ${zone}`}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {names.map((name) => (
            <tr key={name}>
              <th scope="row" className="py-0.5 text-left font-normal">
                {name}
              </th>
              {sheet.subnets.map((subnet) => (
                <td
                  key={subnet.zone}
                  className="text-right font-mono text-[0.92rem]"
                  title={subnet.parts.find((part) => part.name === name)?.how}
                >
                  {formatNumber(find(subnet, name))}
                </td>
              ))}
            </tr>
          ))}
          <tr>
            <th scope="row" className="py-0.5 text-left font-normal">
              Reserved, with the gateway
            </th>
            {sheet.subnets.map(({ zone, reserved }) => (
              <td key={zone} className="text-right font-mono text-[0.92rem]">
                {reserved}
              </td>
            ))}
          </tr>
          <tr className="rule-t font-semibold">
            <th scope="row" className="py-0.5 text-left">
              Needs
            </th>
            {sheet.subnets.map(({ zone, length, addresses, reserved }) => (
              <td key={zone} className="text-right font-mono text-[0.92rem]">
                {formatNumber(addresses + reserved)}, <FigureButton figure={length}>/{length.value}</FigureButton>
              </td>
            ))}
          </tr>
        </tbody>
      </table>
    </Part>
  );
}
