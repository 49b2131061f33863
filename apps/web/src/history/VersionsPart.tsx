import { useQuery, useQueryClient } from '@tanstack/react-query';
import { operationsBetween } from '@wide-lattice/core/plan';
import { useState } from 'react';
import { toast } from 'sonner';
import { api, ApiError } from '../plan/api';
import { authorName } from '../plan/identity';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { Choice } from '../shared/Choice';
import { Part } from '../shared/Halves';
import { useSearchState } from '../shared/useSearchState';
import { core } from '../worker/coreClient';
import { CostComparison } from './CostComparison';
import { ComparedRibbon } from './ComparedRibbon';
import { Comparison } from './Comparison';
import { ReachComparison } from './ReachComparison';
import { usePlanStates } from './usePlanStates';

/** Named versions: name the present one, compare any two, restore one as a change. */
export function VersionsPart() {
  const { session, plan, revision } = usePlan();
  const commit = useCommit();
  const queries = useQueryClient();
  const [search, choose] = useSearchState();
  const [name, setName] = useState('');
  const [refused, setRefused] = useState('');
  const { states, at } = usePlanStates();
  const from = search.get('from') ?? states[1]?.value ?? '0';
  const to = search.get('to') ?? '';
  const { data: comparison, error } = useQuery({
    queryKey: [session.planId, revision, 'compare', from, to],
    queryFn: async () => {
      const [first, second] = await Promise.all([at(from), at(to)]);
      return core.ask('compare', first, second);
    },
    throwOnError: false,
  });
  const { data: reach } = useQuery({
    queryKey: [session.planId, revision, 'compareReach', from, to],
    queryFn: async () => {
      const [first, second] = await Promise.all([at(from), at(to)]);
      return core.ask('compareReach', first, second);
    },
  });
  const time = search.get('time') === 'horizon' ? 'horizon' : 'now';
  const { data: costs } = useQuery({
    queryKey: [session.planId, revision, 'compareCosts', from, to, time],
    queryFn: async () => {
      const [first, second] = await Promise.all([at(from), at(to)]);
      return core.ask('costDifference', first, second, time);
    },
  });
  const keep = async () => {
    try {
      await api.nameVersion(session.planId, name, authorName());
      setName('');
      setRefused('');
      await queries.invalidateQueries({ queryKey: [session.planId, 'versions'] });
    } catch (failure) {
      if (!(failure instanceof ApiError)) throw failure;
      setRefused(failure.message);
    }
  };
  const restore = async () => {
    const { plan: target } = await api.planAt(session.planId, Number(from));
    const operations = operationsBetween(plan, target);
    if (operations.length === 0) {
      toast.info('Nothing to restore: the plan matches that version.');
      return;
    }
    const label = states.find(({ value }) => value === from)?.label ?? `revision ${from}`;
    const problem = await commit(`Restore ${label}`, operations, revision);
    if (problem === '') toast.success(`Restored ${label}`);
    else toast.error(problem);
  };
  return (
    <>
      <Part title="Name the present version">
        <form
          className="flex gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            void keep();
          }}
        >
          <input
            className="input input-sm flex-1"
            aria-label="Name of the version"
            maxLength={80}
            required
            placeholder="such as: as agreed in November"
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <button type="submit" className="btn btn-sm btn-primary" disabled={name.trim() === ''}>
            Name it
          </button>
        </form>
        {refused !== '' && (
          <p role="alert" className="text-error mt-1">
            {refused}
          </p>
        )}
      </Part>
      <Part
        title="Compare"
        aside={
          <button
            type="button"
            className="btn btn-sm btn-outline"
            disabled={from === ''}
            onClick={() => void restore()}
          >
            Restore the first
          </button>
        }
      >
        <div className="grid grid-cols-2 gap-3">
          <Choice label="First" options={states} value={from} onChoose={(value) => choose({ from: value })} />
          <Choice label="Second" options={states} value={to} onChoose={(value) => choose({ to: value })} />
        </div>
        {error !== null && (
          <p role="alert" className="text-error mt-2">
            {error.message}
          </p>
        )}
        {comparison !== undefined && comparison.ranges.length > 0 && (
          <ComparedRibbon key={`${from} ${to}`} states={[from, to]} planAt={at} ranges={comparison.ranges} />
        )}
        {costs !== undefined && (
          <CostComparison
            difference={costs}
            time={time}
            onTime={(next) => choose({ time: next === 'now' ? '' : next })}
          />
        )}
        {reach !== undefined && <ReachComparison {...reach} />}
        {comparison !== undefined && <Comparison comparison={comparison} />}
      </Part>
    </>
  );
}
