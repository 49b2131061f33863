import { formatDuration } from '@wide-lattice/core/english';
import { useSlice } from '../plan/useSlice';
import { Computing } from '../shared/Halves';
import { More } from '../shared/More';
import { TableHead } from '../shared/TableHead';
import { useSearchState } from '../shared/useSearchState';
import { FilterFields } from './FilterFields';
import { filterOf, useRun } from './useRun';
import { wishOf } from './wish';

const words = ['started', 'done', 'refused'] as const;

/** What happened up to the second that is shown, the last first. */
export function LogView() {
  const [search, set] = useSearchState();
  const { at } = useRun();
  const log = useSlice('rehearsalLog', wishOf(search), at, filterOf(search));
  if (log === undefined) return <Computing />;
  return (
    <>
      <FilterFields states={words.map((value) => ({ value, label: value }))} />
      <div className="px-4 py-2">
        <table className="w-full" aria-label="Log">
          <TableHead labels={['Time', 'Object', 'What']} />
          <tbody>
            {log.lines.map(({ at: second, what, kind, name, condition, key, message }) => (
              <tr key={`${key} ${condition} ${what}`} className="rule-b align-top">
                <td className="py-0.5 pr-3 whitespace-nowrap tabular-nums">{formatDuration(second)}</td>
                <td className="pr-2">
                  <button
                    type="button"
                    className="link-hover text-left"
                    onClick={() => set({ side: 'objects', object: key })}
                  >
                    {name}
                  </button>{' '}
                  <span className="quiet text-xs">{kind}</span>
                </td>
                <td className={what === 'refused' ? 'text-error' : ''}>
                  {condition} {what}
                  {message !== '' && <div className="text-xs">{message}</div>}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <More all={log.found} shown={log.lines.length} />
      </div>
    </>
  );
}
