import type { DescribedFinding, Proposing } from '@wide-lattice/core/findings';
import type { Operation } from '@wide-lattice/core/plan';
import { formatCount, formatNumber } from '@wide-lattice/core/working';
import { useAnswer } from '../plan/useSlice';
import { SeverityMark } from './Marks';
import { More } from './More';

const SHOWN = 5;
/** Rows up to which a proposal is tried, since a person waits. */
const MAX_TRIED = 5000;

interface TriedPartProps {
  readonly operations: readonly Operation[];
  readonly proposing: Proposing;
}

/** What a proposal comes to, tried before it is applied: what it mends, what it would newly break, what it leaves open. */
export function TriedPart({ operations, proposing }: TriedPartProps) {
  if (operations.length > MAX_TRIED)
    return (
      <p className="quiet mt-2">
        {formatNumber(operations.length)} rows are not tried beforehand; up to {formatNumber(MAX_TRIED)} are. See
        Findings after it is applied.
      </p>
    );
  return <Outcome operations={operations} proposing={proposing} />;
}

function Outcome({ operations, proposing }: TriedPartProps) {
  const { slice: tried, isFresh } = useAnswer('tried', operations, proposing);
  if (!isFresh) return <p className="quiet mt-2">Trying it...</p>;
  if (tried === undefined)
    return (
      <p role="alert" className="text-error mt-2">
        It cannot be applied as it is. Apply says what stands in the way.
      </p>
    );
  const { mends, brings, notes, leaves, opens, closes, comparedUpTo } = tried;
  if (operations.length === 0) return <Open findings={leaves} title="Still open, and nothing more can be proposed" />;
  return (
    <section aria-label="Tried before it is applied" className="mt-2">
      <p>
        {mends.length === 0 ? 'Tried: it ends no finding' : `Tried: it ends ${formatCount(mends.length, 'finding')}`}
        {brings.length === 0 ? ' and brings none' : ` and brings ${formatNumber(brings.length)}`}
        {notes.length === 0 ? '.' : `, and ${formatCount(notes.length, 'note')}.`}
        {opens !== undefined && closes !== undefined
          ? ` ${reachOf(opens, closes.length)}`
          : ` The matrix is compared for up to ${comparedUpTo} clusters.`}
      </p>
      {mends.length > 0 && (
        <details>
          <summary className="quiet cursor-pointer">What it ends</summary>
          <ul className="list-disc pl-5">
            {mends.slice(0, SHOWN).map((title) => (
              <li key={title}>{title}</li>
            ))}
          </ul>
          <More all={mends.length} shown={SHOWN} />
        </details>
      )}
      <Open findings={[...brings, ...notes]} title="It brings" />
      <Open findings={leaves} title="It leaves open" />
      {closes !== undefined && closes.length > 0 && (
        <>
          <p className="heading mt-2">Passes no more</p>
          <ul className="list-disc pl-5">
            {closes.slice(0, SHOWN).map(({ clusterName, label, before, after, of }) => (
              <li key={`${clusterName} ${label}`}>
                {clusterName} to {label}
                {of > 1 && `: ${after} of ${of}, before ${before}`}
              </li>
            ))}
          </ul>
          <More all={closes.length} shown={SHOWN} />
        </>
      )}
    </section>
  );
}

function reachOf(opens: number, closes: number): string {
  if (opens === 0 && closes === 0) return 'In the matrix as much passes as before.';
  const more = opens === 0 ? '' : `${formatCount(opens, 'cell')} of the matrix ${opens === 1 ? 'passes' : 'pass'} more`;
  const less = closes === 0 ? '' : `${formatCount(closes, 'cell')}${opens === 0 ? ' of the matrix' : ''} less`;
  return `${[more, less].filter((part) => part !== '').join(', ')}${opens === 0 ? ' pass than before' : ''}.`;
}

function Open({ findings, title }: { readonly findings: readonly DescribedFinding[]; readonly title: string }) {
  if (findings.length === 0) return null;
  return (
    <>
      <p className="heading mt-2">{title}</p>
      <ul>
        {findings.slice(0, SHOWN).map(({ key, severity, title: what }) => (
          <li key={key} className="flex items-baseline gap-1.5 py-0.5">
            <SeverityMark severity={severity} /> {what}
          </li>
        ))}
      </ul>
      <More all={findings.length} shown={SHOWN} />
    </>
  );
}
