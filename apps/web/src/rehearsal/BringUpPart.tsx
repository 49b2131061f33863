import { formatDuration } from '@wide-lattice/core/english';
import { formatCount, formatNumber } from '@wide-lattice/core/working';
import type { ToldBefore } from '@wide-lattice/core/rehearsal';
import { useCallback } from 'react';
import { useSlice } from '../plan/useSlice';
import { Computing } from '../shared/Halves';
import { useSearchState } from '../shared/useSearchState';
import type { ShownRun } from '../worker/slices/rehearsalSlices';
import { PathView } from './PathView';
import { TimeLine } from './TimeLine';
import { secondOf, wishOf } from './wish';
import { WishFields } from './WishFields';

const told: readonly ToldBefore[] = ['addresses', 'quotas', 'names', 'images and services'];

/** The run in one sentence and over time, or why it has not begun. */
export function BringUpPart() {
  const [search, set] = useSearchState();
  const wish = wishOf(search);
  const before = useSlice('prerequisites', wish.scope);
  const isForced = search.get('even') === 'yes';
  if (before === undefined) return <Computing />;
  const open = before.confirmable.filter((each) => each.open.length > 0);
  return (
    <>
      <WishFields />
      {before.areMet || isForced ? (
        <Run />
      ) : (
        <section aria-label="Before it begins" className="px-4 py-3">
          <p className="text-[15px]">
            The run has not begun:{' '}
            {before.failed.length > 0 && (
              <strong className="text-error">
                {formatCount(before.failed.length, 'prerequisite fails', 'prerequisites fail')}
              </strong>
            )}
            {before.failed.length > 0 && open.length > 0 && ', '}
            {open.length > 0 && `${formatCount(open.length, 'point is', 'points are')} not confirmed at every site`}.
          </p>
          <p className="quiet mb-2">
            Each is listed on the right with its fix. What only people can know is ticked there.
          </p>
          <table className="mb-3" aria-label="What holds it up">
            <tbody>
              {told.map((about) => {
                const count = before.failed.filter((each) => each.about === about).length;
                return (
                  <tr key={about} className="rule-b">
                    <th scope="row" className="py-0.5 pr-6 text-left font-normal">
                      {about}
                    </th>
                    <td className={count > 0 ? 'text-error font-semibold' : 'text-success'}>
                      {count > 0 ? `${count} ${count === 1 ? 'fails' : 'fail'}` : 'as it must be'}
                    </td>
                  </tr>
                );
              })}
              {open.map(({ what, open: sites }) => (
                <tr key={what} className="rule-b">
                  <th scope="row" className="py-0.5 pr-6 text-left font-normal">
                    {what}
                  </th>
                  <td>not confirmed at {formatCount(sites.length, 'site')}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <button type="button" className="btn btn-sm btn-primary" onClick={() => set({ even: 'yes' })}>
            Run even so
          </button>
        </section>
      )}
    </>
  );
}

function Run() {
  const [search, set] = useSearchState();
  const run = useSlice('rehearsal', wishOf(search));
  const onSecond = useCallback((at: number) => set({ at: String(at) }), [set]);
  if (run === undefined) return <Computing />;
  if (!run.ok) return <p className="text-error px-4 py-3">{run.message}</p>;
  return (
    <>
      <Sentence run={run} />
      <TimeLine
        run={run}
        at={secondOf(search, run.total)}
        phase={search.get('phase') ?? ''}
        onSecond={onSecond}
        onPhase={(phase) => set({ phase, side: 'objects' })}
      />
      <PathView run={run} />
    </>
  );
}

function Sentence({ run }: { readonly run: ShownRun & { readonly ok: true } }) {
  const { total, objects, ready, refused, circles } = run;
  const never = objects - ready - refused;
  return (
    <section aria-label="Outcome" className="rule-b px-4 py-2.5">
      <p className="text-[15px]">
        It takes <strong>{formatDuration(total)}</strong>: {formatNumber(ready)} of {formatNumber(objects)} objects come
        up
        {refused === 0 ? '.' : ', '}
        {refused > 0 && (
          <strong className="text-error">
            {formatNumber(refused)} {refused === 1 ? 'is' : 'are'} refused
          </strong>
        )}
        {never > 0 && `, ${formatNumber(never)} ${never === 1 ? 'waits' : 'wait'} for what never comes`}
        {refused > 0 && '.'}
      </p>
      {circles.map((circle) => (
        <p key={circle.join()} className="text-error">
          These wait for one another, so that none begins: {circle.join(', then ')}. Break the circle by one of them.
        </p>
      ))}
    </section>
  );
}
