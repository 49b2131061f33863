import { formatCount } from '@wide-lattice/core/working';
import { byId, rulesOf, formatField, setOperation } from '@wide-lattice/core/plan';
import type { Cluster, FieldRule, FieldValue, Template } from '@wide-lattice/core/plan';
import type { TemplateEffect, TemplateState } from '@wide-lattice/core/templates';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Stamp } from 'lucide-react';
import { useState } from 'react';
import { usePlan } from '../plan/PlanContext';
import { useBegan } from '../plan/useBegan';
import { useCommit } from '../plan/useCommit';
import { Computing, Empty, Part } from '../shared/Halves';
import { useSearchState } from '../shared/useSearchState';
import { core } from '../worker/coreClient';
import { FieldValuesEditor } from './FieldValuesEditor';
import { StampDialog } from './StampDialog';
import { More } from '../shared/More';
import { toggled } from '../shared/toggled';

/** The chosen template: what it sets, being typed; what that does to each cluster made from it; the stamp. */
export function TemplateSide() {
  const { plan } = usePlan();
  const [search] = useSearchState();
  const template = plan.templates.find(({ id }) => id === search.get('template')) ?? plan.templates[0];
  if (template === undefined)
    return <Empty>Add a template: what it sets, its clusters and the stamp will be shown here.</Empty>;
  return <Chosen key={template.id} template={template} />;
}

function Chosen({ template }: { readonly template: Template }) {
  const { plan, session, revision } = usePlan();
  const commit = useCommit();
  const [draft, setDraft] = useState<readonly string[]>();
  const [chosen, setChosen] = useState<ReadonlySet<string>>();
  const [isStamping, setStamping] = useState(false);
  const [refused, setRefused] = useState('');
  const began = useBegan(draft !== undefined);
  const changed = draft === undefined ? undefined : { ...template, sets: draft };
  const { data: effects, isPlaceholderData: isStale } = useQuery({
    queryKey: [session.planId, revision, 'template', template.id, changed?.sets],
    queryFn: () => core.ask('templateEffects', template.id, changed),
    placeholderData: keepPreviousData,
  });
  const differing = (effects ?? []).filter(({ state }) => state !== 'alike');
  // Those that simply follow are taken along unless they are taken out; others only when they are chosen.
  const taken =
    chosen ?? new Set(differing.filter(({ state }) => state === 'accepts').map(({ clusterId }) => clusterId));
  const base = byId(plan.templates, template.basedOnId ?? '');
  const store = async () => {
    const own = changed === undefined ? [] : [setOperation('templates', template.id, { sets: changed.sets })];
    const theirs = differing.filter(({ clusterId }) => taken.has(clusterId)).flatMap(({ operations }) => operations);
    const label = `${template.name}: ${own.length > 0 ? 'changed, ' : ''}applied to ${formatCount(theirs.length, 'cluster')}`;
    const problem = await commit(label, [...own, ...theirs], began);
    if (problem === '') edit(undefined);
    else setRefused(problem);
  };
  const edit = (sets: readonly string[] | undefined) => {
    setRefused('');
    setChosen(undefined);
    setDraft(sets);
  };
  return (
    <>
      <Head template={template} base={base?.name} onStamp={() => setStamping(true)} />
      <FieldValuesEditor template={template} sets={draft ?? template.sets} onSets={edit} />
      <Part
        title={effects === undefined ? 'Clusters made from it' : `Clusters made from it: ${effects.length}`}
        aside={
          <Acts
            isDraft={draft !== undefined}
            count={taken.size}
            canApply={!isStale && (draft !== undefined || taken.size > 0)}
            onDiscard={() => edit(undefined)}
            onApply={() => void store()}
          />
        }
      >
        {refused !== '' && (
          <p role="alert" className="text-error mb-2">
            {refused}
          </p>
        )}
        <Effects effects={effects} taken={taken} onToggle={(id) => setChosen(toggled(taken, id))} />
      </Part>
      {isStamping && <StampDialog template={template} onClose={() => setStamping(false)} />}
    </>
  );
}

/** A longer list is cut; what applies to all still does. */
const SHOWN = 300;

const states: readonly { readonly state: TemplateState; readonly title: string }[] = [
  { state: 'rebuild', title: 'Need a rebuild' },
  { state: 'drifted', title: 'Drifted' },
  { state: 'accepts', title: 'Accept it' },
  { state: 'alike', title: 'Unchanged' },
];

interface EffectsProps {
  /** Undefined while they are computed. */
  readonly effects: readonly TemplateEffect[] | undefined;
  readonly taken: ReadonlySet<string>;
  readonly onToggle: (clusterId: string) => void;
}

function Effects({ effects, taken, onToggle }: EffectsProps) {
  if (effects === undefined) return <Computing />;
  if (effects.length === 0) return <p className="quiet">No clusters are made from it yet. Stamp it over some sites.</p>;
  return (
    <div className="flex flex-col gap-2">
      {states.map(({ state, title }) => {
        const own = effects.filter((effect) => effect.state === state);
        if (own.length === 0) return null;
        if (state === 'alike')
          return (
            <p key={state} className="quiet">
              {title}: {own.length}
            </p>
          );
        return (
          <section key={state} aria-label={title}>
            <h3 className={state === 'rebuild' ? 'text-error font-semibold' : 'font-semibold'}>
              {title}: {own.length}
            </h3>
            <ul>
              {own.slice(0, SHOWN).map((effect) => (
                <EffectRow
                  key={effect.clusterId}
                  effect={effect}
                  isTaken={taken.has(effect.clusterId)}
                  onToggle={() => onToggle(effect.clusterId)}
                />
              ))}
            </ul>
            <More all={own.length} shown={SHOWN} />
          </section>
        );
      })}
    </div>
  );
}

function EffectRow(props: {
  readonly effect: TemplateEffect;
  readonly isTaken: boolean;
  readonly onToggle: () => void;
}) {
  const { plan } = usePlan();
  const { clusterName, gaps } = props.effect;
  const say = (field: keyof Cluster, value: unknown) =>
    formatField(plan, rulesOf('clusters')[field] as FieldRule, value as FieldValue) || 'none';
  return (
    <li className="rule-b">
      <label className="flex items-start gap-2 py-0.5">
        <input
          type="checkbox"
          className="checkbox checkbox-xs mt-1"
          checked={props.isTaken}
          onChange={props.onToggle}
        />
        <span className="w-36 shrink-0 truncate">{clusterName}</span>
        <span className="min-w-0">
          {gaps.map(({ field, has, wants, isFollowing }) => (
            <span key={field} className="block">
              <span className="quiet">{rulesOf('clusters')[field]?.label}</span> {say(field, has)} to{' '}
              {say(field, wants)}
              {!isFollowing && <span className="text-warning"> its own</span>}
            </span>
          ))}
        </span>
      </label>
    </li>
  );
}

interface HeadProps {
  readonly template: Template;
  /** The name of the one that it is based on. */
  readonly base: string | undefined;
  readonly onStamp: () => void;
}

function Head({ template, base, onStamp }: HeadProps) {
  return (
    <div className="rule-b flex items-center gap-2 px-4 py-1.5">
      <h2 className="heading truncate">{template.name}</h2>
      {base !== undefined && <span className="quiet truncate">based on {base}</span>}
      <button type="button" className="btn btn-sm btn-outline ml-auto" onClick={onStamp}>
        <Stamp size={14} aria-hidden /> Stamp over sites
      </button>
    </div>
  );
}

interface ActsProps {
  readonly isDraft: boolean;
  /** Clusters that it is applied to. */
  readonly count: number;
  readonly canApply: boolean;
  readonly onDiscard: () => void;
  readonly onApply: () => void;
}

function Acts({ isDraft, count, canApply, onDiscard, onApply }: ActsProps) {
  return (
    <span className="flex gap-2">
      <button type="button" className="btn btn-sm btn-ghost" disabled={!isDraft} onClick={onDiscard}>
        Discard
      </button>
      <button type="button" className="btn btn-sm btn-primary" disabled={!canApply} onClick={onApply}>
        {isDraft ? `Save and apply to ${count}` : `Apply to ${count}`}
      </button>
    </span>
  );
}
