import { NavLink } from 'react-router';
import { useTriedSlice } from '../plan/useSlice';
import { SeverityMark } from '../shared/Marks';
import { stops, worstAt } from './stops';

const link = ({ isActive }: { isActive: boolean }) =>
  `inline-flex h-9 items-center gap-1 border-b-2 px-2 whitespace-nowrap ${isActive ? 'border-primary font-semibold' : 'hover:border-base-300 border-transparent'}`;

/** The stops of the work in order, each with what is worst there. Narrow enough for all ten beside board, findings and history. */
export function Course() {
  const { slice: counts } = useTriedSlice('findingCounts');
  return (
    <nav
      aria-label="Course of the work"
      className="woven rule-b bg-base-200 relative flex shrink-0 items-center overflow-x-auto px-1"
    >
      <span className="plain flex items-center text-[13px]">
        <NavLink to="board" className={link}>
          Board
        </NavLink>
        <Divider />
        {stops.map(({ place, name, path, about }) => {
          const worst = counts === undefined ? undefined : worstAt(path, counts);
          return (
            <NavLink key={path} to={path} className={link} title={about}>
              <span className="quiet font-mono text-[11px]">{place}</span>
              {name}
              {worst !== undefined && <SeverityMark {...worst} />}
            </NavLink>
          );
        })}
        <Divider />
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

function Divider() {
  return <span className="bg-base-300 mx-0.5 h-5 w-px" aria-hidden />;
}
