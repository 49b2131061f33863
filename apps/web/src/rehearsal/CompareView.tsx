import { useQuery } from '@tanstack/react-query';
import { formatDuration } from '@wide-lattice/core/english';
import type { Plan } from '@wide-lattice/core/plan';
import type { BringUpWish } from '@wide-lattice/core/rehearsal';
import { usePlanStates } from '../history/usePlanStates';
import { usePlan } from '../plan/PlanContext';
import { useSlice } from '../plan/useSlice';
import { Choice } from '../shared/Choice';
import { Computing, Part } from '../shared/Halves';
import { More } from '../shared/More';
import { TableHead } from '../shared/TableHead';
import { useSearchState } from '../shared/useSearchState';
import { core } from '../worker/coreClient';
import type { ShownRunComparison } from '../worker/slices/rehearsalSlices';
import { wishOf } from './wish';

type Beside = { readonly is: 'wish'; readonly wish: BringUpWish } | { readonly is: 'state'; readonly revision: string };

/** The run beside another: with the nodes of another time, with built clusters there or not, or of another state of the plan. */
export function CompareView() {
  const [search, set] = useSearchState();
  const { revision } = usePlan();
  const wish = wishOf(search);
  const { states, at } = usePlanStates();
  const others = states.filter(({ value }) => value !== '' && value !== String(revision));
  const beside = besideOf(search.get('beside') ?? '', wish);
  return (
    <Part title="Two runs compared">
      <div className="mb-2 w-72">
        <Choice
          label="The run on the left, and the same"
          options={[
            { value: 'nodes', label: `with the nodes ${wish.nodes === 'today' ? 'of the horizon' : 'of today'}` },
            {
              value: 'built',
              label: wish.isBuiltThere ? 'with built clusters brought up too' : 'with built clusters there already',
            },
            ...others.map(({ value, label }) => ({ value, label: `of the plan: ${label}` })),
          ]}
          value={beside.is === 'state' ? beside.revision : (search.get('beside') ?? 'nodes')}
          onChoose={(value) => set({ beside: value === 'nodes' ? '' : value })}
        />
      </div>
      {beside.is === 'state' ? (
        <OfState wish={wish} revision={beside.revision} planAt={at} />
      ) : (
        <OfNow wish={wish} second={beside.wish} />
      )}
    </Part>
  );
}

function besideOf(text: string, wish: BringUpWish): Beside {
  if (/^\d+$/.test(text)) return { is: 'state', revision: text };
  return {
    is: 'wish',
    wish:
      text === 'built'
        ? { ...wish, isBuiltThere: !wish.isBuiltThere }
        : { ...wish, nodes: wish.nodes === 'today' ? 'horizon' : 'today' },
  };
}

function OfNow({ wish, second }: { readonly wish: BringUpWish; readonly second: BringUpWish }) {
  const compared = useSlice('rehearsalsCompared', wish, second);
  return compared === undefined ? <Computing /> : <Differences compared={compared} />;
}

interface OfStateProps {
  readonly wish: BringUpWish;
  readonly revision: string;
  readonly planAt: (state: string) => Promise<Plan | undefined>;
}

/** Of a state of the plan that the server keeps. */
function OfState({ wish, revision: other, planAt }: OfStateProps) {
  const { session, revision, isMade } = usePlan();
  const { data, error } = useQuery({
    queryKey: [session.planId, revision, isMade, 'rehearsalsCompared', wish, other],
    queryFn: async ({ signal }) => {
      const plan = await planAt(other);
      const of = plan === undefined ? undefined : { plan, isMade };
      return { compared: await core.askIn({ isMade, signal }, 'rehearsalsCompared', wish, wish, of) };
    },
    throwOnError: false,
  });
  if (error !== null)
    return (
      <p role="alert" className="text-error">
        {error.message}
      </p>
    );
  return data?.compared === undefined ? <Computing /> : <Differences compared={data.compared} />;
}

function Differences({ compared }: { readonly compared: ShownRunComparison }) {
  return (
    <>
      <p className="text-[15px]">
        {formatDuration(compared.first)} and {formatDuration(compared.second)}: the second takes{' '}
        <strong>
          {compared.first === compared.second
            ? 'as long'
            : `${formatDuration(Math.abs(compared.second - compared.first))} ${compared.second > compared.first ? 'longer' : 'less'}`}
        </strong>
        .
      </p>
      <table className="mt-1.5 w-full" aria-label="Objects that differ">
        <TableHead labels={['Object', 'In the second', 'First', 'Second']} rightFrom={2} />
        <tbody>
          {compared.differences.map(({ kind, name, what, first, second: after }) => (
            <tr key={`${kind} ${name}`} className="rule-b">
              <th scope="row" className="py-0.5 pr-2 text-left font-normal">
                {name} <span className="quiet text-xs">{kind}</span>
              </th>
              <td className={`whitespace-nowrap ${what === 'never comes to be' ? 'text-error font-semibold' : ''}`}>
                {what}
              </td>
              <td className="pl-3 text-right whitespace-nowrap tabular-nums">
                {Number.isFinite(first) ? formatDuration(first) : '–'}
              </td>
              <td className="pl-3 text-right whitespace-nowrap tabular-nums">
                {Number.isFinite(after) ? formatDuration(after) : '–'}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <More all={compared.found} shown={compared.differences.length} />
    </>
  );
}
