import { toast } from 'sonner';
import { useCommit } from '../plan/useCommit';
import { useSlice } from '../plan/useSlice';

/** The smallest changes that would let a packet pass, each with what else it opens, applied as one change. */
export function Mends({ from, to, bytes }: { readonly from: string; readonly to: string; readonly bytes: number }) {
  const mends = useSlice('mends', from, to, bytes);
  const commit = useCommit();
  if (mends === undefined) return <p className="quiet">Looking for changes...</p>;
  if (mends.length === 0)
    return (
      <p className="quiet">
        No added rule, route, advertised prefix, translation or smaller MTU lets it pass. What stands in the way has to
        be changed itself.
      </p>
    );
  const apply = async (steps: readonly string[], operations: (typeof mends)[number]['operations']) => {
    const problem = await commit(`Let it pass: ${steps[0] ?? ''}`, operations);
    if (problem === '') toast.success('Applied as one change.');
    else toast.error(problem);
  };
  return (
    <ul>
      {mends.map(({ steps, operations, opens }) => (
        <li key={steps.join()} className="rule-b flex items-start gap-3 py-1.5">
          <div className="min-w-0 flex-1">
            {steps.map((step) => (
              <p key={step}>{step}</p>
            ))}
            <p className="quiet">{opens}</p>
          </div>
          <button type="button" className="btn btn-sm btn-outline" onClick={() => void apply(steps, operations)}>
            Apply
          </button>
        </li>
      ))}
    </ul>
  );
}
