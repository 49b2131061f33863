import { addOperation, newId } from '@wide-lattice/core/plan';
import { formatCount, formatNames } from '@wide-lattice/core/working';
import type { Confirmable } from '@wide-lattice/core/rehearsal';
import { FindingItem } from '../findings/FindingItem';
import { authorName } from '../plan/identity';
import { useCommit } from '../plan/useCommit';
import { useSlice } from '../plan/useSlice';
import { Computing, Part } from '../shared/Halves';
import { useSearchState } from '../shared/useSearchState';
import { wishOf } from './wish';

/** What must hold before anything is built: what the plan can tell, with its fixes, and what is ticked by hand. */
export function PrerequisitesView() {
  const [search] = useSearchState();
  const before = useSlice('prerequisites', wishOf(search).scope);
  if (before === undefined) return <Computing />;
  const { failed, confirmable } = before;
  return (
    <>
      <Part title="Confirmed by hand">
        <ul>
          {confirmable.map((each) => (
            <Confirm key={each.what} of={each} />
          ))}
        </ul>
      </Part>
      <Part title="Told by the plan">
        {failed.length === 0 ? (
          <p>Addresses, quotas, names, images and services: the plan knows of nothing that fails.</p>
        ) : (
          <>
            <p className="quiet">
              {formatCount(failed.length, 'prerequisite fails', 'prerequisites fail')}; the fixes are beside them.
            </p>
            {failed.slice(0, 30).map(({ about, finding }) => (
              <div key={finding.key}>
                <p className="quiet mt-1.5 text-xs">{about}</p>
                <FindingItem finding={finding} isBrief />
              </div>
            ))}
          </>
        )}
      </Part>
    </>
  );
}

function Confirm({ of: { what, confirmed, open } }: { readonly of: Confirmable }) {
  const commit = useCommit();
  const isMet = open.length === 0;
  const toggle = () => {
    const today = new Date().toISOString().slice(0, 10);
    const operations = isMet
      ? confirmed.map(({ id }) => ({ op: 'remove', kind: 'confirmations', id }) as const)
      : open.map(({ id: siteId }) =>
          addOperation('confirmations', {
            id: newId(),
            siteId,
            what,
            confirmedBy: authorName(),
            confirmedOn: today,
            note: '',
          }),
        );
    void commit(isMet ? `take back ${what}` : `confirm ${what}`, operations);
  };
  return (
    <li className="flex items-center gap-2 py-0.5">
      <label className="flex min-w-0 flex-1 items-center gap-2">
        <input type="checkbox" className="checkbox checkbox-xs" checked={isMet} onChange={toggle} />
        <span className="w-40 shrink-0">{what}</span>
        <span className={isMet ? 'quiet' : ''}>
          {isMet
            ? `confirmed at ${formatCount(confirmed.length, 'site')}`
            : `open at ${formatNames(open.map(({ name }) => name))}`}
        </span>
      </label>
    </li>
  );
}
