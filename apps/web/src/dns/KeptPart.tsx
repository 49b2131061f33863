import { formatNumber } from '@wide-lattice/core/working';
import { useSlice } from '../plan/useSlice';
import { DomainName } from '../shared/DomainName';
import { Part } from '../shared/Halves';
import { TableHead } from '../shared/TableHead';

const MAX_SHOWN = 200;

/** Records that record controllers make: derived, so in quiet type beside those that were typed. */
export function KeptPart() {
  const kept = useSlice('keptRecords');
  if (kept === undefined || kept.length === 0) return null;
  return (
    <Part title="Kept by record controllers">
      <div
        className="max-h-44 overflow-y-auto"
        tabIndex={0}
        role="group"
        aria-label="Records kept by record controllers"
      >
        <table className="quiet w-full" aria-label="Kept records">
          <TableHead labels={['Name', 'Type', 'Value', 'Zone', 'Controller', 'TTL']} rightFrom={5} />
          <tbody>
            {kept.slice(0, MAX_SHOWN).map(({ name, type, value, zone, recordController, ttl }) => (
              <tr key={`${zone} ${name} ${type}`} className="rule-b">
                <th scope="row" className="py-0.5 pr-2 text-left font-normal">
                  <DomainName name={name} />
                </th>
                <td className="pr-2">{type}</td>
                <td className="pr-2 font-mono text-[13px] break-all">{value}</td>
                <td className="pr-2">{zone}</td>
                <td className="pr-2">{recordController}</td>
                <td className="text-right whitespace-nowrap">{formatNumber(ttl)} s</td>
              </tr>
            ))}
          </tbody>
        </table>
        {kept.length > MAX_SHOWN && <p>and {kept.length - MAX_SHOWN} others</p>}
      </div>
    </Part>
  );
}
