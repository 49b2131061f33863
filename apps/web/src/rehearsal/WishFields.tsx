import { Choice } from '../shared/Choice';
import { usePlan } from '../plan/PlanContext';
import { useSearchState } from '../shared/useSearchState';
import { ScopeChoice } from './ScopeChoice';

/** What is brought up: the scope, how many nodes, whether built clusters stand already, and a second pod network to try. */
export function WishFields() {
  const { plan } = usePlan();
  const [search, set] = useSearchState();
  const choose = (field: string) => (value: string) => set({ [field]: value, at: '', object: '' });
  const either = (label: string, field: string, usual: string, value: string, other: string) => (
    <Choice
      label={label}
      options={[
        { value: '', label: usual },
        { value, label: other },
      ]}
      value={search.get(field) ?? ''}
      onChoose={choose(field)}
    />
  );
  return (
    <div className="rule-b grid grid-cols-2 gap-x-4 gap-y-1.5 px-4 py-2.5 lg:grid-cols-4">
      <ScopeChoice label="Bring up" onChoose={choose('scope')} />
      {either('Nodes', 'nodes', 'of today', 'horizon', 'of the horizon')}
      {either('Built clusters', 'built', 'come up too', 'there', 'are there already')}
      <Choice
        label="Second pod network"
        options={[
          { value: '', label: 'not tried' },
          ...plan.clusters.map(({ id, name }) => ({ value: id, label: `in ${name}` })),
        ]}
        value={search.get('again') ?? ''}
        onChoose={choose('again')}
      />
    </div>
  );
}
