import type { AskingStop } from '@wide-lattice/core/plan';
import { ArrowRight } from 'lucide-react';
import { Link } from 'react-router';
import { FindingItem } from '../findings/FindingItem';
import { usePlanPath } from '../plan/usePlanPath';
import { useSlice } from '../plan/useSlice';
import { Computing, Part } from '../shared/Halves';
import { useSearchState } from '../shared/useSearchState';
import type { Matters } from '../worker/slices/matters';

/** What a stop opens on, under its question bar: what is broken here with a fix, what is missing in the order of work, and what is worth asking. */
export function MattersPart({ stop }: { readonly stop: AskingStop }) {
  const matters = useSlice('matters', stop);
  const [, set] = useSearchState();
  const path = usePlanPath();
  if (matters === undefined) return <Computing />;
  const { broken, errors, warnings, missing, asks } = matters;
  const more = errors + warnings - broken.length;
  return (
    <>
      <p className="rule-b px-4 py-3 text-[17px] font-semibold">
        <State matters={matters} />
      </p>
      {broken.length > 0 && (
        <Part
          title="Worst first"
          aside={
            more > 0 ? <Link to={path('findings')} className="link">{`${more} more in the findings`}</Link> : undefined
          }
        >
          {broken.map((finding) => (
            <FindingItem key={finding.key} finding={finding} isBrief />
          ))}
        </Part>
      )}
      {missing.length > 0 && (
        <Part title="Missing, in the order of work">
          <Missing missing={missing} />
        </Part>
      )}
      {asks.length > 0 && (
        <Part title="Worth asking here">
          <ul>
            {asks.map(({ from, to }) => (
              <li key={`${from} ${to}`}>
                <button
                  type="button"
                  className="link flex items-center gap-1.5 py-0.5 text-left"
                  onClick={() => set({ from, to, side: 'question' })}
                >
                  {from} <ArrowRight size={13} aria-hidden className="shrink-0" /> <span className="sr-only">to</span>{' '}
                  <span className="break-all">{to}</span>
                </button>
              </li>
            ))}
          </ul>
        </Part>
      )}
    </>
  );
}

/** The steps that are missing, each with where it is done. */
function Missing({ missing }: Pick<Matters, 'missing'>) {
  const [, set] = useSearchState();
  const path = usePlanPath();
  return (
    <ul>
      {missing.map(({ text, action, search, path: elsewhere }) => (
        <li key={text} className="flex items-center justify-between gap-3 py-1">
          {text}
          {elsewhere === undefined ? (
            <button type="button" className="btn btn-xs btn-outline" onClick={() => set(search)}>
              {action}
            </button>
          ) : (
            <Link
              className="btn btn-xs btn-outline"
              to={path(`${elsewhere}?${new URLSearchParams(search).toString()}`)}
            >
              {action}
            </Link>
          )}
        </li>
      ))}
    </ul>
  );
}

/** The state in one sentence; what is not there to be judged is never told as whole. */
function State({ matters: { errors, warnings, missing, isEmpty } }: { readonly matters: Matters }) {
  if (isEmpty) return 'There is nothing to judge yet.';
  return (
    <>
      {errors === 0 ? (
        'No errors are found here'
      ) : (
        <span className="text-error">{errors === 1 ? 'One thing is broken' : `${errors} things are broken`}</span>
      )}
      {warnings > 0 && (
        <>
          , <span className="text-warning">{warnings === 1 ? 'one is in doubt' : `${warnings} are in doubt`}</span>
        </>
      )}
      {missing.length > 0 && `, ${missing.length === 1 ? 'one step is' : `${missing.length} steps are`} missing`}.
    </>
  );
}
