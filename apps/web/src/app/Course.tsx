import { NavLink } from 'react-router';
import { usePlan } from '../plan/PlanContext';
import { useSlice } from '../plan/useSlice';
import { SeverityMark } from '../shared/Marks';
import { stops } from './stops';

const link = ({ isActive }: { isActive: boolean }) =>
  `inline-flex h-9 items-center gap-1.5 border-b-2 px-3 ${isActive ? 'border-primary font-semibold' : 'hover:border-base-300 border-transparent'}`;

/** The stops of the work in order, each with how far it is. */
export function Course() {
  const { plan } = usePlan();
  const findings = useSlice(['findings'], (core) => core.findings());
  const states: Record<string, string> = {
    ground: `${plan.networks.length} networks`,
    demand: `${plan.clusters.length} clusters`,
    ranges: `${plan.allocations.length} ranges`,
  };
  const worst = (kinds: readonly string[]) => {
    const own = (findings ?? []).filter(({ subjects }) => kinds.includes(subjects[0]?.kind ?? ''));
    const errors = own.filter(({ severity }) => severity === 'error').length;
    const warnings = own.filter(({ severity }) => severity === 'warning').length;
    return { errors, warnings };
  };
  const counts: Record<string, { errors: number; warnings: number }> = {
    ground: worst(['inUse', 'networks', 'blocks', 'subnets', 'links', 'attachments', 'sites', 'profiles', 'shapes']),
    demand: worst(['clusters', 'runs', 'nodePools', 'templates']),
    ranges: worst(['allocations', 'pools']),
  };
  return (
    <nav aria-label="Course of the work" className="woven rule-b bg-base-200 flex items-center overflow-x-auto px-2">
      <span className="plain flex items-center">
        <NavLink to="board" className={link}>
          Board
        </NavLink>
        <span className="bg-base-300 mx-1 h-5 w-px" aria-hidden />
        {stops.map(({ place, name, path, about }) => (
          <NavLink key={path} to={path} className={link} title={about}>
            <span className="quiet font-mono text-xs">{place}</span>
            {name}
            {states[path] !== undefined && <span className="quiet text-xs font-normal">{states[path]}</span>}
            {(counts[path]?.errors ?? 0) > 0 && <SeverityMark severity="error" count={counts[path]?.errors ?? 0} />}
            {(counts[path]?.warnings ?? 0) > 0 && (
              <SeverityMark severity="warning" count={counts[path]?.warnings ?? 0} />
            )}
          </NavLink>
        ))}
        <span className="bg-base-300 mx-1 h-5 w-px" aria-hidden />
        <NavLink to="findings" className={link}>
          Findings
        </NavLink>
        <NavLink to="history" className={link}>
          History
        </NavLink>
      </span>
    </nav>
  );
}
