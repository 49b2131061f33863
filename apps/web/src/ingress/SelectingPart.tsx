import { Link } from 'react-router';
import { usePlan } from '../plan/PlanContext';
import { usePlanPath } from '../plan/usePlanPath';
import { useSlice } from '../plan/useSlice';
import { Part } from '../shared/Halves';

/** The services that select a workload. */
export function SelectingPart({ id }: { readonly id: string }) {
  const selecting = useSlice('selecting', id);
  const { plan } = usePlan();
  const path = usePlanPath();
  const name = plan.workloads.find((each) => each.id === id)?.name ?? '';
  return (
    <Part title={`Services that select ${name}`}>
      {selecting?.length === 0 ? (
        <p className="quiet">None: it is reached by its pods’ own addresses only.</p>
      ) : (
        <ul>
          {selecting?.map((each) => (
            <li key={each.id} className="rule-b flex justify-between gap-3 py-0.5">
              <Link className="hover:underline" to={path(`ingress?show=services&row=${each.id}`)}>
                {each.name}
              </Link>
              <span className="quiet">{each.type}</span>
            </li>
          ))}
        </ul>
      )}
    </Part>
  );
}
