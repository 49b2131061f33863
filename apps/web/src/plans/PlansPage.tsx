import { formatNumber } from '@wide-lattice/core/working';
import { useInfiniteQuery, useQueryClient } from '@tanstack/react-query';
import { writePlanFile } from '@wide-lattice/core/exchange';
import { Copy, FileUp, Plus, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api, ApiError } from '../plan/api';
import type { PlanSummary } from '../plan/api';
import { authorName } from '../plan/identity';
import { Empty } from '../shared/Halves';
import { openingOf, planOf } from './newPlan';
import { NewPlanDialog } from './NewPlanDialog';
import { RemovedPlansPart, formatWhen } from './RemovedPlansPart';
import { RemovePlanDialog } from './RemovePlanDialog';
import { MAX_FILE_BYTES } from '@wide-lattice/core/plan';
import { IconButton } from '../shared/IconButton';

/** The server lists this many at once. */
const PAGE = 100;

/** Every plan, the one changed last first; start one, copy one, remove one, or open one from a plan file. */
export function PlansPage() {
  const { data, error, hasNextPage, fetchNextPage } = useInfiniteQuery({
    queryKey: ['plans'],
    queryFn: ({ pageParam }) => api.plans(pageParam),
    initialPageParam: 0,
    getNextPageParam: (last, pages) => (last.length < PAGE ? undefined : pages.length * PAGE),
    throwOnError: false,
  });
  const plans = data?.pages.flat();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [isStarting, setStarting] = useState(false);
  const [removed, setRemoved] = useState<PlanSummary>();
  const [problems, setProblems] = useState<readonly string[]>([]);
  const [reading, setReading] = useState<string>();
  const reload = () => queries.invalidateQueries({ queryKey: ['plans'] });
  const create = async (work: () => Promise<{ id: string }>, opening: (id: string) => string) => {
    const { id } = await work();
    await reload();
    void navigate(opening(id));
  };
  const attempt = async (work: () => Promise<unknown>) => {
    setProblems([]);
    const wrong = await problemsOf(work);
    setProblems(wrong);
  };
  const readFile = async (file: File | undefined) => {
    if (file === undefined) return;
    if (file.size > MAX_FILE_BYTES)
      setProblems([
        `${file.name} has ${Math.ceil(file.size / 1_000_000)} MB; a plan file may have ${MAX_FILE_BYTES / 1_000_000} MB.`,
      ]);
    else {
      setReading(file.name);
      await attempt(() =>
        create(
          () => api.importFile(file),
          (id) => `/plans/${id}`,
        ),
      );
      setReading(undefined);
    }
  };
  return (
    <>
      <header className="woven rule-b bg-base-200 flex h-11 items-center gap-2 px-3">
        <span className="plain inline-flex items-center gap-2 px-1 font-semibold">
          <img src="/favicon.svg" alt="" width={22} height={22} />
          Wide Lattice
        </span>
      </header>
      <main className="mx-auto w-full max-w-3xl min-h-0 flex-1 overflow-auto px-4 py-6">
        <div className="mb-3 flex items-center gap-3">
          <h1 className="text-xl font-semibold">Plans</h1>
          <span className="ml-auto" />
          <label className="btn btn-sm btn-outline">
            <FileUp size={14} aria-hidden /> Open a plan file
            <input
              type="file"
              className="sr-only"
              accept=".json,.yaml,.yml"
              onChange={(event) => void readFile(event.target.files?.[0])}
            />
          </label>
          <button type="button" className="btn btn-sm btn-primary" onClick={() => setStarting(true)}>
            <Plus size={14} aria-hidden /> New plan
          </button>
        </div>
        {reading !== undefined && (
          <p role="status" className="quiet mb-3">
            Sending, checking and storing {reading}. A plan of a thousand clusters takes some 15 seconds.
          </p>
        )}
        {error !== null && (
          <p role="alert" className="text-error mb-3">
            {error.message}
          </p>
        )}
        {problems.length > 0 && (
          <ul role="alert" className="text-error mb-3">
            {problems.slice(0, 50).map((problem) => (
              <li key={problem}>{problem}</li>
            ))}
          </ul>
        )}
        {plans !== undefined && plans.length > 0 && <p className="quiet">The one changed last comes first.</p>}
        <ul className="mb-4">
          {plans?.map((plan) => (
            <li key={plan.id} className="rule-b hover:bg-base-200 flex items-center gap-1 px-2">
              <Link
                to={`/plans/${plan.id}`}
                className="flex min-w-0 flex-1 flex-wrap items-baseline justify-between gap-x-4 py-2.5"
              >
                <span className="truncate text-lg font-medium">{plan.name}</span>
                <span className="quiet">
                  revision {formatNumber(plan.revision)}, changed {formatWhen(plan.changedAt)}
                </span>
              </Link>
              <IconButton
                label={`Duplicate ${plan.name}`}
                onClick={() =>
                  void attempt(async () => {
                    await api.duplicate(plan.id, `${plan.name.slice(0, 70)} (copy)`);
                    await reload();
                  })
                }
              >
                <Copy size={14} aria-hidden />
              </IconButton>
              <IconButton label={`Remove ${plan.name}`} onClick={() => setRemoved(plan)}>
                <Trash2 size={14} aria-hidden />
              </IconButton>
            </li>
          ))}
        </ul>
        {hasNextPage && (
          <button type="button" className="btn btn-sm btn-outline" onClick={() => void fetchNextPage()}>
            Show {PAGE} more
          </button>
        )}
        {plans?.length === 0 && (
          <Empty
            action={
              <button type="button" className="btn btn-sm btn-primary" onClick={() => setStarting(true)}>
                New plan
              </button>
            }
          >
            No plan yet. Begin with a usual kind of place, a list of clusters, or the demo.
          </Empty>
        )}
        <RemovedPlansPart
          onRestore={(id) =>
            void attempt(async () => {
              await api.restore(id, authorName());
              await reload();
            })
          }
        />
      </main>
      {isStarting && (
        <NewPlanDialog
          onClose={() => setStarting(false)}
          onStart={async (wanted) => {
            const file = new Blob([writePlanFile(planOf(wanted), 'json')]);
            const wrong = await problemsOf(() =>
              create(
                () => api.importFile(file),
                (id) => openingOf(id, wanted.from),
              ),
            );
            return wrong.join(' ');
          }}
        />
      )}
      {removed !== undefined && (
        <RemovePlanDialog
          plan={removed}
          onClose={() => setRemoved(undefined)}
          onRemove={async () => {
            const wrong = await problemsOf(() => api.remove(removed.id, authorName()));
            if (wrong.length > 0) return wrong.join(' ');
            setRemoved(undefined);
            await reload();
            return '';
          }}
        />
      )}
    </>
  );
}

/** Does something at the server; gives what it refused, nothing when it was done. */
async function problemsOf(work: () => Promise<unknown>): Promise<readonly string[]> {
  try {
    await work();
    return [];
  } catch (failure) {
    if (!(failure instanceof ApiError)) throw failure;
    const listed = (failure.body.problems ?? []).map(
      (problem) => `${'path' in problem ? String(problem.path) : problem.field}: ${problem.message} ${problem.fix}`,
    );
    return [failure.message, ...listed];
  }
}
