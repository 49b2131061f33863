import { useQuery, useQueryClient } from '@tanstack/react-query';
import { defaultSettings } from '@wide-lattice/core/plan';
import { FileUp, Plus } from 'lucide-react';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api, ApiError } from '../plan/api';
import { Empty } from '../shared/Halves';

// The server lists this many at once.
const SHOWN = 100;
const MAX_FILE_BYTES = 16_000_000;

/** Every plan; start one, or take one from a plan file. */
export function PlansPage() {
  const { data: plans, error } = useQuery({ queryKey: ['plans'], queryFn: api.plans });
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [name, setName] = useState('');
  const [problems, setProblems] = useState<readonly string[]>([]);
  const attempt = async (work: () => Promise<{ id: string }>) => {
    setProblems([]);
    try {
      const { id } = await work();
      await queries.invalidateQueries({ queryKey: ['plans'] });
      void navigate(`/plans/${id}`);
    } catch (failure) {
      if (!(failure instanceof ApiError)) throw failure;
      const listed = (failure.body.problems ?? []).map(
        (problem) => `${'path' in problem ? String(problem.path) : problem.field}: ${problem.message} ${problem.mend}`,
      );
      setProblems([failure.message, ...listed]);
    }
  };
  const readFile = async (file: File | undefined) => {
    if (file === undefined) return;
    if (file.size > MAX_FILE_BYTES)
      setProblems([`${file.name} has ${Math.ceil(file.size / 1_000_000)} MB; a plan file may have 16 MB.`]);
    else await attempt(async () => api.importFile(await file.text()));
  };
  return (
    <>
      <header className="woven rule-b bg-base-200 flex h-11 items-center gap-2 px-3">
        <span className="plain inline-flex items-center gap-2 px-1 font-semibold">
          <img src="/favicon.svg" alt="" width={22} height={22} />
          Wide Lattice
        </span>
      </header>
      <main className="mx-auto w-full max-w-3xl px-4 py-6">
        <h1 className="mb-3 text-xl font-semibold">Plans</h1>
        {error !== null && (
          <p role="alert" className="text-error mb-3">
            {error.message}
          </p>
        )}
        <ul className="mb-6">
          {plans?.map((plan) => (
            <li key={plan.id} className="rule-b">
              <Link
                to={`/plans/${plan.id}`}
                className="hover:bg-base-200 flex items-baseline justify-between gap-4 px-2 py-2.5"
              >
                <span className="text-lg font-medium">{plan.name}</span>
                <span className="quiet">
                  revision {plan.revision}, changed {plan.changedAt.slice(0, 10)}
                </span>
              </Link>
            </li>
          ))}
        </ul>
        {plans?.length === SHOWN && <p className="quiet mb-6">The {SHOWN} plans that were changed last are shown.</p>}
        {plans?.length === 0 && <Empty>No plan yet. Start one below.</Empty>}
        <div className="flex flex-wrap items-end gap-3">
          <form
            className="flex items-end gap-2"
            onSubmit={(event) => {
              event.preventDefault();
              void attempt(() => api.create({ ...defaultSettings, name: name.trim() }));
            }}
          >
            <label className="block">
              <span className="block">Name of a new plan</span>
              <input
                className="input input-sm w-64"
                value={name}
                maxLength={80}
                required
                onChange={(event) => setName(event.target.value)}
              />
            </label>
            <button type="submit" className="btn btn-sm btn-primary">
              <Plus size={14} aria-hidden /> Start
            </button>
          </form>
          <label className="btn btn-sm btn-outline">
            <FileUp size={14} aria-hidden /> Take a plan file
            <input
              type="file"
              className="sr-only"
              accept=".json,.yaml,.yml"
              onChange={(event) => void readFile(event.target.files?.[0])}
            />
          </label>
        </div>
        {problems.length > 0 && (
          <ul role="alert" className="text-error mt-4">
            {problems.slice(0, 50).map((problem) => (
              <li key={problem}>{problem}</li>
            ))}
          </ul>
        )}
      </main>
    </>
  );
}
