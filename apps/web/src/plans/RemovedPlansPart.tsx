import { formatNumber } from '@wide-lattice/core/working';
import { useQuery } from '@tanstack/react-query';
import { ArchiveRestore } from 'lucide-react';
import { api } from '../plan/api';
import type { PlanLogLine } from '../plan/api';

const words: Readonly<Record<PlanLogLine['event'], string>> = {
  created: 'was created',
  removed: 'was removed',
  restored: 'was restored',
  purged: 'was deleted for good, 30 days after it was removed',
};

/** Times are told in UTC, to the minute. */
export const formatWhen = (time: string) => `${time.slice(0, 16).replace('T', ' ')} UTC`;

/** Removed plans, each with its way back, and the log of what happened to plans. */
export function RemovedPlansPart({ onRestore }: { readonly onRestore: (id: string) => void }) {
  const { data: removed, error } = useQuery({
    queryKey: ['plans', 'removed'],
    queryFn: api.removedPlans,
    throwOnError: false,
  });
  const { data: log } = useQuery({ queryKey: ['plans', 'log'], queryFn: api.planLog, throwOnError: false });
  return (
    <>
      {error !== null && <p className="text-error">Removed plans could not be listed. {error.message}</p>}
      {removed !== undefined && removed.length > 0 && (
        <section aria-label="Removed plans" className="mb-4">
          <h2 className="heading mb-1">Removed plans</h2>
          <ul>
            {removed.map(({ id, name, revision, keptUntil }) => (
              <li key={id} className="rule-b flex flex-wrap items-center gap-x-4 px-2 py-1.5">
                <span className="min-w-0 truncate">{name}</span>
                <span className="quiet ml-auto">
                  revision {formatNumber(revision)}, kept until {keptUntil.slice(0, 10)}
                </span>
                <button
                  type="button"
                  className="btn btn-xs btn-outline"
                  aria-label={`Restore ${name}`}
                  onClick={() => onRestore(id)}
                >
                  <ArchiveRestore size={13} aria-hidden /> Restore
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
      {log !== undefined && log.length > 0 && (
        <details>
          <summary className="quiet cursor-pointer">Log of plans</summary>
          <ul className="mt-1" aria-label="Log of plans">
            {log.map(({ id, at, planName, event, revision, author }) => (
              <li key={id} className="rule-b px-2 py-0.5">
                <span className="quiet mr-3">{formatWhen(at)}</span>
                {planName} {words[event]} at revision {formatNumber(revision)}
                {author !== '' && ` by ${author}`}
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}
