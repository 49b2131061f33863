import { addOperation, newId, USUAL_BYTES, withFallbacks, zoneWords } from '@wide-lattice/core/plan';
import type { AskingStop, Expectation } from '@wide-lattice/core/plan';
import { useEffect, useId, useRef, useState } from 'react';
import type { RefObject } from 'react';
import { toast } from 'sonner';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { useAnswer, useSlice } from '../plan/useSlice';
import { Computing, Part } from '../shared/Halves';
import { useSearchState } from '../shared/useSearchState';
import type { ShownTrace } from '../worker/slices/question';
import { MattersPart } from './MattersPart';
import { Mends } from './Mends';
import { Road } from './Road';
import { StagesPart } from './StagesPart';
import { TraceMark } from './TraceMark';
import { Stale } from '../shared/Stale';

/** The question bar; under it what matters at the stop, or when something is asked the verdict in one sentence, the road, and the changes that would let the packet pass. The address holds the question. */
export function QuestionView({ stop }: { readonly stop: AskingStop }) {
  const [search] = useSearchState();
  const from = search.get('from') ?? '';
  const to = search.get('to') ?? '';
  const bytes = Number(search.get('bytes') ?? USUAL_BYTES);
  const lost = search.get('lost') ?? '';
  const isAsked = from !== '' && to !== '';
  return (
    <>
      <QuestionBar from={from} to={to} bytes={bytes} lost={lost} />
      {isAsked ? <Answered from={from} to={to} bytes={bytes} lost={lost} /> : <MattersPart stop={stop} />}
    </>
  );
}

const explained = {
  from: 'A pod or node of a cluster, an address in a network, a range in use, a bastion, the internet',
  to: 'A place with protocol and port, api of a cluster, a need, a URL such as https://tickets.example/pay, name tickets.example type A, service shop/basket of a cluster tcp 80',
} as const;

interface QuestionProps {
  readonly from: string;
  readonly to: string;
  readonly bytes: number;
  /** A zone that is gone while it is asked, such as "a of Basalt hall"; empty for none. */
  readonly lost: string;
}

/** One line, a sentence with blanks to fill; each completes from what the plan holds. */
function QuestionBar({ from, to, bytes, lost }: QuestionProps) {
  const { plan } = usePlan();
  const places = useSlice('places');
  const [search, set] = useSearchState();
  const first = useRef<HTMLInputElement>(null);
  const isAsking = search.get('ask') === '1';
  // The key that opens the question bar puts the focus into its first blank.
  useEffect(() => {
    if (!isAsking) return;
    first.current?.focus();
    first.current?.select();
    set({ ask: '' });
    // oxlint-disable-next-line react-hooks/exhaustive-deps -- only when it is asked for
  }, [isAsking]);
  const [typed, setTyped] = useTyped(from, to, bytes);
  return (
    <form
      role="search"
      aria-label="Question to the plan"
      className="rule-b flex flex-wrap items-center gap-x-2 gap-y-1 px-4 py-2"
      onSubmit={(event) => {
        event.preventDefault();
        set({ from: typed.from, to: typed.to, bytes: typed.bytes });
      }}
    >
      <div className="flex w-full items-center gap-2">
        <Blank
          part="from"
          label="From"
          field={first}
          className="flex-1"
          placeholder={`pod of ${plan.clusters[0]?.name ?? 'a cluster'}`}
          words={places?.from}
          text={typed.from}
          onType={(text) => setTyped({ ...typed, from: text })}
        />
        <Blank
          part="to"
          label="to"
          className={typed.to.includes('://') ? 'flex-[2.6]' : 'flex-[1.4]'}
          placeholder="a place tcp 443, a URL, a name"
          words={places?.to}
          text={typed.to}
          onType={(text) => setTyped({ ...typed, to: text })}
        />
      </div>
      <Bytes bytes={typed.bytes} onType={(text) => setTyped({ ...typed, bytes: text })} />
      <LostZone lost={lost} onChoose={(zone) => set({ lost: zone })} />
      <button type="submit" className="btn btn-sm btn-primary ml-auto" disabled={typed.from === '' || typed.to === ''}>
        Ask
      </button>
    </form>
  );
}

/** What stands in the blanks. A question that comes from elsewhere takes the place of what was typed; the focus stays where it is. */
function useTyped(from: string, to: string, bytes: number) {
  const [typed, setTyped] = useState({ from, to, bytes: String(bytes) });
  const asked = `${from} ${to} ${bytes}`;
  const [last, setLast] = useState(asked);
  if (asked !== last) {
    setLast(asked);
    setTyped({ from, to, bytes: String(bytes) });
  }
  return [typed, setTyped] as const;
}

interface BlankProps {
  readonly part: 'from' | 'to';
  readonly label: string;
  readonly field?: RefObject<HTMLInputElement | null>;
  readonly className: string;
  readonly placeholder: string;
  /** What it can be completed from. */
  readonly words: readonly string[] | undefined;
  readonly text: string;
  readonly onType: (text: string) => void;
}

function Blank({ part, label, field, className, placeholder, words, text, onType }: BlankProps) {
  const id = useId();
  return (
    <>
      <label htmlFor={id}>{label}</label>
      <input
        id={id}
        ref={field}
        list={`${id}s`}
        className={`input input-sm min-w-0 ${className}`}
        value={text}
        spellCheck={false}
        placeholder={placeholder}
        title={explained[part]}
        onChange={(event) => onType(event.target.value)}
      />
      <datalist id={`${id}s`}>
        {words?.map((word) => (
          <option key={word} value={word} />
        ))}
      </datalist>
    </>
  );
}

function Bytes({ bytes, onType }: { readonly bytes: string; readonly onType: (text: string) => void }) {
  const id = useId();
  return (
    <>
      <label htmlFor={id}>with packets of</label>
      <input
        id={id}
        type="number"
        min={68}
        max={9216}
        className="input input-sm w-24"
        value={bytes}
        onChange={(event) => onType(event.target.value)}
      />
      <span>bytes</span>
    </>
  );
}

function LostZone({ lost, onChoose }: { readonly lost: string; readonly onChoose: (zone: string) => void }) {
  const { plan } = usePlan();
  const id = useId();
  return (
    <>
      <label htmlFor={id} className="ml-2">
        lost zone
      </label>
      <select
        id={id}
        className="select select-sm min-w-0 flex-1"
        value={lost}
        onChange={(event) => onChoose(event.target.value)}
      >
        <option value="">none</option>
        {zoneWords(plan).map((zone) => (
          <option key={zone}>{zone}</option>
        ))}
      </select>
    </>
  );
}

function Answered({ from, to, bytes, lost }: QuestionProps) {
  const { slice: answer, isFresh } = useAnswer('trace', from, to, bytes, lost);
  const [flow, setFlow] = useState(0);
  if (answer === undefined) return <Computing />;
  if (!answer.ok)
    return (
      <p role="alert" className="text-error px-4 py-3">
        {answer.message}
      </p>
    );
  const shown = answer.flows[flow] ?? answer.flows[0];
  return (
    <Stale isFresh={isFresh}>
      <section aria-label="Verdict" className="rule-b px-4 py-3">
        <p className="text-[15px]">
          <strong className="mr-2">
            <TraceMark verdict={answer.verdict} />
          </strong>
          {answer.sentence}
        </p>
        {lost === '' ? (
          <Keep question={{ from, to, bytes }} answer={answer} />
        ) : (
          <p className="quiet mt-1">Nodes and devices in zone {lost} are gone.</p>
        )}
      </section>
      <StagesPart stages={answer.stages} members={answer.members} />
      {answer.flows.length > 1 && (
        <div className="rule-b flex items-center gap-2 px-4 py-1.5">
          <label htmlFor="which-flow">Flow</label>
          <select
            id="which-flow"
            className="select select-sm flex-1"
            value={flow}
            onChange={(event) => setFlow(Number(event.target.value))}
          >
            {answer.flows.map(({ label, verdict }, i) => (
              <option key={label} value={i}>
                {label}: {verdict}
              </option>
            ))}
          </select>
        </div>
      )}
      {shown !== undefined && <Road key={`${from} ${to} ${flow}`} flow={shown} />}
      {lost === '' && answer.verdict !== 'pass' && answer.flows.length > 0 && answer.stages.length === 0 && (
        <Part title="Smallest changes that let it pass">
          <Mends from={from} to={to} bytes={bytes} />
        </Part>
      )}
    </Stale>
  );
}

/** Keeps the question as an expectation, so that it is asked again after every change. */
function Keep({ question, answer }: { readonly question: Omit<QuestionProps, 'lost'>; readonly answer: ShownTrace }) {
  const { plan } = usePlan();
  const commit = useCommit();
  if (!answer.ok) return null;
  const known = plan.expectations.find(({ from, to }) => from === question.from && to === question.to);
  if (known !== undefined)
    return (
      <p className="quiet mt-1">
        Kept as the expectation “{known.name}”: {known.verdict}.
      </p>
    );
  const keep = async (verdict: Expectation['verdict'], by = '') => {
    const name = `${question.from} to ${question.to}`.slice(0, 80);
    const made = withFallbacks('expectations', { id: newId(), name, ...question, verdict, answer: by });
    const problem = await commit('Keep an expectation', [addOperation('expectations', made)]);
    if (problem === '') toast.success('Kept. It is asked again after every change.');
    else toast.error(problem);
  };
  return (
    <div className="mt-2 flex flex-wrap items-center gap-2">
      <span className="quiet">Keep it as an expectation:</span>
      {(['must pass', 'must be refused'] as const).map((verdict) => (
        <button key={verdict} type="button" className="btn btn-xs btn-outline" onClick={() => void keep(verdict)}>
          {verdict}
        </button>
      ))}
      {answer.named?.map((value) => (
        <button
          key={value}
          type="button"
          className="btn btn-xs btn-outline"
          onClick={() => void keep(answer.verdict === 'pass' ? 'must pass' : 'must be refused', value)}
        >
          must answer {value}
        </button>
      ))}
      {answer.members[0] !== undefined && (
        <button
          type="button"
          className="btn btn-xs btn-outline"
          onClick={() => void keep('must pass', answer.members[0]?.name)}
        >
          must be answered by {answer.members[0].name}
        </button>
      )}
    </div>
  );
}
