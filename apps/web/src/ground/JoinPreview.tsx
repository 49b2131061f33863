import type { DescribedFinding } from '@wide-lattice/core/findings';
import { addOperation, newId, withFallbacks } from '@wide-lattice/core/plan';
import type { Operation } from '@wide-lattice/core/plan';
import { useMemo, useState } from 'react';
import { toast } from 'sonner';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { useAnswer } from '../plan/useSlice';
import { Choice } from '../shared/Choice';
import { Computing, Part } from '../shared/Halves';
import { SeverityMark } from '../shared/Marks';
import { More } from '../shared/More';

const SHOWN = 50;

/** What a peering of two networks would break, before it is made; it can then be kept as a planned link. */
export function JoinPreview() {
  const { plan } = usePlan();
  const commit = useCommit();
  const [first, setFirst] = useState('');
  const [second, setSecond] = useState('');
  const operations = useMemo((): Operation[] => {
    if (first === '' || second === '' || first === second) return [];
    const name = (id: string) => plan.networks.find((network) => network.id === id)?.name ?? '';
    const link = {
      id: newId(),
      name: `${name(first)} to ${name(second)}`.slice(0, 80),
      kind: 'peering' as const,
      networkIds: [first, second],
      isPlanned: true,
    };
    return [addOperation('links', withFallbacks('links', link))];
  }, [first, second, plan.networks]);
  const networks = [
    { value: '', label: 'choose' },
    ...plan.networks.map(({ id, name }) => ({ value: id, label: name })).sort((a, b) => (a.label < b.label ? -1 : 1)),
  ];
  const { slice: effect, isFresh } = useAnswer('effectOf', operations);
  const gained = operations.length === 0 ? [] : (effect?.gained ?? []);
  const keep = async () => {
    const problem = await commit('Plan a peering', operations);
    if (problem === '') toast.success('Kept as a planned link.');
    else toast.error(problem);
  };
  return (
    <Part
      title="What would a peering break?"
      aside={
        <button
          type="button"
          className="btn btn-sm btn-outline"
          disabled={operations.length === 0 || effect === undefined || !isFresh}
          onClick={() => void keep()}
        >
          Keep it as planned
        </button>
      }
    >
      <div className="grid grid-cols-2 gap-3">
        <Choice label="One network" options={networks} value={first} onChoose={setFirst} />
        <Choice label="The other" options={networks} value={second} onChoose={setSecond} />
      </div>
      {operations.length > 0 && !isFresh && <Computing />}
      {operations.length > 0 && isFresh && effect === undefined && (
        <p className="quiet mt-2">There is a link of that name already.</p>
      )}
      {operations.length > 0 && isFresh && effect !== undefined && <Broken gained={gained} />}
    </Part>
  );
}

/** What would break, or that nothing would. */
function Broken({ gained }: { readonly gained: readonly DescribedFinding[] }) {
  return (
    <div className="mt-2" aria-live="polite">
      <p className={gained.length > 0 ? 'text-error font-semibold' : ''}>
        {gained.length === 0 ? 'Nothing would break.' : `${gained.length} would break:`}
      </p>
      <ul>
        {gained.slice(0, SHOWN).map((finding) => (
          <li key={finding.key} className="rule-b flex gap-2 py-0.5">
            <SeverityMark severity={finding.severity} /> {finding.title}
          </li>
        ))}
      </ul>
      <More all={gained.length} shown={SHOWN} />
    </div>
  );
}
