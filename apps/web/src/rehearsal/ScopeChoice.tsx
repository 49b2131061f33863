import { Choice } from '../shared/Choice';
import { usePlan } from '../plan/PlanContext';
import { useSearchState } from '../shared/useSearchState';

interface ScopeChoiceProps {
  readonly label: string;
  readonly onChoose: (scope: string) => void;
}

/** The whole plan, or the clusters of one site or template, or one cluster, as the address says it. */
export function ScopeChoice({ label, onChoose }: ScopeChoiceProps) {
  const { plan } = usePlan();
  const [search] = useSearchState();
  const named = (kind: string, rows: readonly { readonly id: string; readonly name: string }[]) =>
    rows.map(({ id, name }) => ({ value: `${kind}~${id}`, label: `${kind} ${name}` }));
  const haveClusters = plan.sites.filter(({ id }) => plan.clusters.some(({ siteId }) => siteId === id));
  return (
    <Choice
      label={label}
      options={[
        { value: '', label: 'the whole plan' },
        ...named('site', haveClusters),
        ...named('template', plan.templates),
        ...named('cluster', plan.clusters),
      ]}
      value={search.get('scope') ?? ''}
      onChoose={onChoose}
    />
  );
}
