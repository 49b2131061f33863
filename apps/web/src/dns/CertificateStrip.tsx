import { formatNames } from '@wide-lattice/core/working';
import { certificateEnd, daysBetween, renewalOf, usesOf } from '@wide-lattice/core/naming';
import { kindRules } from '@wide-lattice/core/plan';
import { useState } from 'react';
import { usePlan } from '../plan/PlanContext';
import { Part } from '../shared/Halves';
import { useSearchState } from '../shared/useSearchState';

/** Days that the strip shows. */
const DAYS = 365;

/** Calendar of the certificates: when each is renewed and when it ends, over a year from today, and what breaks on the day. */
export function CertificateStrip() {
  const { plan } = usePlan();
  const [, set] = useSearchState();
  const [today] = useState(() => new Date().toISOString().slice(0, 10));
  const rows = plan.certificates
    .map((certificate) => ({ certificate, end: certificateEnd(certificate), renewal: renewalOf(certificate) }))
    .sort((a, b) => (a.end < b.end ? -1 : 1));
  if (rows.length === 0) return null;
  const place = (day: string) => `${Math.min(100, Math.max(0, (100 * daysBetween(today, day)) / DAYS))}%`;
  return (
    <Part title="Expiry calendar" aside={<span className="quiet">one year from {today}</span>}>
      <ul className="grid max-h-52 gap-1.5 overflow-y-auto">
        {rows.map(({ certificate, end, renewal }) => {
          const left = daysBetween(today, end);
          const isOver = left < 0;
          const isDue = !isOver && daysBetween(today, renewal) <= 0;
          const users = usesOf(plan, certificate).length > 0 ? certificate.names : [];
          return (
            <li key={certificate.id}>
              <button
                type="button"
                className="w-full text-left hover:underline"
                onClick={() => set({ row: certificate.id })}
              >
                <span className="flex items-baseline justify-between gap-3">
                  <span>{kindRules('certificates').label(certificate, plan)}</span>
                  <span className={isOver ? 'text-error' : isDue ? 'text-warning' : 'quiet'}>
                    {isOver
                      ? `expired ${end}, ${-left} days ago`
                      : isDue
                        ? `renewal due since ${renewal}, expires ${end}`
                        : `renewal ${renewal}, expires ${end}, in ${left} days`}
                  </span>
                </span>
              </button>
              <span aria-hidden className="bg-base-200 relative mt-0.5 block h-2">
                <span className="bg-success absolute inset-y-0 left-0" style={{ width: place(renewal) }} />
                <span
                  className="bg-warning absolute inset-y-0"
                  style={{ left: place(renewal), right: `calc(100% - ${place(end)})` }}
                />
              </span>
              {users.length > 0 && (
                <p className="quiet text-xs">
                  On {end} {formatNames(users)} {users.length === 1 ? 'is' : 'are'} refused by clients
                  {certificate.renewsItself ? ', unless it renews itself before.' : ': somebody has to renew it.'}
                </p>
              )}
            </li>
          );
        })}
      </ul>
    </Part>
  );
}
