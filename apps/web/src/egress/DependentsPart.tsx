import { formatNumber } from '@wide-lattice/core/working';
import { MAX_FOLLOWED } from '@wide-lattice/core/reach';
import { useSlice } from '../plan/useSlice';
import { Part } from '../shared/Halves';
import { TraceMark } from '../question/TraceMark';

const SHOWN = 6;

/** The expectations and needs whose packets pass by the chosen row, or are stopped by it: what its removal would touch. */
export function DependentsPart({ id, name }: { readonly id: string; readonly name: string }) {
  const dependents = useSlice('dependentsOf', id);
  const isBare = dependents === undefined;
  return (
    <Part title={`What rests on ${name}`}>
      {isBare ? (
        <p className="quiet">No expectation, and no need of the first {MAX_FOLLOWED} clusters, is decided here.</p>
      ) : (
        <ul className="max-h-40 overflow-auto" tabIndex={0} aria-label={`What rests on ${name}`}>
          {dependents.expectations.map((each) => (
            <li key={each.id} className="rule-b flex gap-3 py-0.5">
              <span className="w-24 shrink-0">
                <TraceMark verdict={each.verdict} />
              </span>
              expectation {each.name}
            </li>
          ))}
          {dependents.needs.map((need) => (
            <li key={need.id} className="rule-b py-0.5">
              need {need.name} <span className="quiet">of {formatNames(need.clusters)}</span>
            </li>
          ))}
        </ul>
      )}
    </Part>
  );
}

function formatNames(names: readonly string[]): string {
  const more = names.length - SHOWN;
  return `${names.slice(0, SHOWN).join(', ')}${more > 0 ? ` and ${formatNumber(more)} more` : ''}`;
}
