import { formatDuration } from '@wide-lattice/core/english';
import { formatNumber } from '@wide-lattice/core/working';
import { Link } from 'react-router';
import { usePlanPath } from '../plan/usePlanPath';
import { useSlice } from '../plan/useSlice';
import { Computing, Part } from '../shared/Halves';
import { More } from '../shared/More';
import { TableHead } from '../shared/TableHead';
import { useSearchState } from '../shared/useSearchState';
import type { ShownObjectDetail } from '../worker/slices/rehearsalSlices';
import { FilterFields } from './FilterFields';
import { StateMark } from './StateMark';
import { filterOf, useRun } from './useRun';
import { wishOf } from './wish';

/** Every object with its conditions at the second that is shown; the chosen one with its log and what it waits for. */
export function ObjectsView() {
  const [search, set] = useSearchState();
  const { at } = useRun();
  const filter = filterOf(search);
  const wish = wishOf(search);
  const objects = useSlice('rehearsalObjects', wish, at, filter);
  const chosen = search.get('object') ?? '';
  const detail = useSlice('rehearsalObject', wish, at, chosen);
  if (objects === undefined) return <Computing />;
  const { counts } = objects;
  return (
    <>
      <FilterFields
        states={(['refused', 'underway', 'waiting', 'ready'] as const).map((state) => ({
          value: state,
          label: `${state} (${formatNumber(counts[state])})`,
        }))}
      />
      {detail !== undefined && <Detail detail={detail} onClose={() => set({ object: '' })} />}
      <div className="px-4 py-2">
        <table className="w-full table-fixed" aria-label="Objects">
          <colgroup>
            <col className="w-[34%]" />
            <col className="w-[5.8rem]" />
            <col />
            <col className="w-[6rem]" />
          </colgroup>
          <TableHead labels={['Object', 'State', 'Condition', 'Since']} rightFrom={3} />
          <tbody>
            {objects.rows.map(({ key, kind, name, state, condition, reason, message, since }) => (
              <tr key={key} className={`rule-b align-top ${key === chosen ? 'bg-base-200' : ''}`}>
                <th scope="row" className="py-0.5 pr-2 text-left font-normal">
                  <button
                    type="button"
                    className="link-hover max-w-full text-left break-words"
                    onClick={() => set({ object: key })}
                  >
                    {name}
                  </button>
                  <div className="quiet text-xs">{kind}</div>
                </th>
                <td className="pr-2 whitespace-nowrap">
                  <StateMark state={state} />
                </td>
                <td className="pr-2">
                  {condition} <span className="quiet">{reason}</span>
                  {message !== '' && <div className="quiet text-xs">{message}</div>}
                </td>
                <td className="text-right whitespace-nowrap tabular-nums">{formatDuration(since)}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <More all={objects.found} shown={objects.rows.length} />
      </div>
    </>
  );
}

function Conditions({ conditions }: Pick<ShownObjectDetail, 'conditions'>) {
  const planPath = usePlanPath();
  return (
    <table className="mt-1 w-full" aria-label="Conditions">
      <TableHead labels={['Type', 'Status', 'Reason', 'Message', 'Last change']} rightFrom={4} />
      <tbody>
        {conditions.map(({ type, status, reason, message, since, findingKey }) => (
          <tr key={type} className="rule-b align-top">
            <th scope="row" className="py-0.5 pr-2 text-left font-normal">
              {type}
            </th>
            <td className={`pr-2 ${status === 'False' ? 'font-semibold' : ''}`}>{status}</td>
            <td className="pr-2">{reason}</td>
            <td className="pr-2">
              {message}
              {findingKey !== '' && (
                <>
                  {' '}
                  <Link className="link" to={planPath(`findings?finding=${encodeURIComponent(findingKey)}`)}>
                    Finding
                  </Link>
                </>
              )}
            </td>
            <td className="text-right whitespace-nowrap tabular-nums">{formatDuration(since)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Detail({ detail, onClose }: { readonly detail: ShownObjectDetail; readonly onClose: () => void }) {
  const planPath = usePlanPath();
  const [, set] = useSearchState();
  const { kind, name, state, conditions, log, roots, path } = detail;
  return (
    <Part
      title={`${kind} ${name}`}
      aside={
        <span className="flex items-center gap-3">
          {path !== undefined && (
            <Link className="link" to={planPath(path)}>
              Show in the plan
            </Link>
          )}
          <button type="button" className="btn btn-xs btn-ghost" onClick={onClose}>
            Close
          </button>
        </span>
      }
    >
      <p>
        <StateMark state={state} />
      </p>
      <Conditions conditions={conditions} />
      {roots.length > 0 && (
        <>
          <p className="mt-2">It waits for what never comes to be:</p>
          <ul className="list-disc pl-5">
            {roots.map((root) => (
              <li key={root.key}>
                <button type="button" className="link text-left" onClick={() => set({ object: root.key })}>
                  {root.name}
                </button>
                {root.message !== '' && `: ${root.message}`}
              </li>
            ))}
          </ul>
        </>
      )}
      {log.length > 0 && (
        <ol className="quiet mt-2" aria-label="Log of the object">
          {log.map(({ at, what, condition, message }) => (
            <li key={`${at} ${what} ${condition}`}>
              {formatDuration(at)}: {condition} {what}
              {message !== '' && `. ${message}`}
            </li>
          ))}
        </ol>
      )}
    </Part>
  );
}
