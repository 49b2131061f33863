import { formatNumber } from '@wide-lattice/core/working';
import { OctagonX } from 'lucide-react';
import { Link } from 'react-router';
import { usePlanPath } from '../plan/usePlanPath';
import { useSlice } from '../plan/useSlice';
import { Part } from '../shared/Halves';
import { TableHead } from '../shared/TableHead';

/** Who answers at each port of a service, and which share of the calls each workload gets. */
export function ServicePart({ id }: { readonly id: string }) {
  const service = useSlice('serviceDoors', id);
  const path = usePlanPath();
  if (service === undefined) return null;
  return (
    <Part title={`Endpoints of ${service.name}`} aside={<span className="quiet">{service.clusterName}</span>}>
      <p className="mb-2">
        <span className="quiet">Cluster address</span> {service.address}
      </p>
      {service.entryPoints.map(({ port, nodePort, members }) => (
        <div key={port} className="mb-2">
          <p className="mb-0.5 font-semibold">
            {port}
            {nodePort === '' ? null : <span className="quiet font-normal"> NodePort {nodePort}</span>}
          </p>
          {members.length === 0 ? (
            <p className="text-warning">It selects no workload: nothing answers yet.</p>
          ) : (
            <table className="w-full" aria-label={`Members at ${port}`}>
              <TableHead labels={['Workload', 'Container port', 'Pods', 'Share of calls']} rightFrom={2} />
              <tbody>
                {members.map((member) => (
                  <tr key={member.workloadId} className="rule-b">
                    <th scope="row" className="py-0.5 pr-2 text-left font-normal">
                      <Link className="hover:underline" to={path(`ingress?show=workloads&row=${member.workloadId}`)}>
                        {member.name}
                      </Link>
                    </th>
                    <td className="pr-2">
                      {member.port ?? (
                        <span className="text-error inline-flex items-center gap-1">
                          <OctagonX size={13} aria-hidden /> nothing listens
                        </span>
                      )}
                    </td>
                    <td className="pl-3 text-right">{formatNumber(member.pods)}</td>
                    <td className="pl-3 text-right">{member.share.toFixed(1)} %</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </div>
      ))}
    </Part>
  );
}
