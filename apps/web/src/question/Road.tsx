import { formatNumber } from '@wide-lattice/core/working';
import { useRef, useState } from 'react';
import type { KeyboardEvent } from 'react';
import { Link } from 'react-router';
import { usePlanPath } from '../plan/usePlanPath';
import { Part } from '../shared/Halves';
import { TableHead } from '../shared/TableHead';
import type { ShownFlow, ShownStep } from '../worker/slices/question';
import { foldLanes } from './foldLanes';
import { Knot } from './Knot';

/** The road of one flow: lanes from left to right, a thread there above and one back below, and the decision of the knot in focus. */
export function Road({ flow }: { readonly flow: ShownFlow }) {
  const { lanes, forth, back } = flow;
  const steps = [...forth, ...back];
  // What decides is met first: the last step of the way that failed, else the first.
  const isCut = ({ event }: ShownStep) => event === 'refused' || event === 'dropped';
  const [at, setAt] = useState(Math.max(0, steps.findIndex(isCut)));
  const [isTable, setTable] = useState(false);
  const grid = useRef<HTMLDivElement>(null);
  const folded = foldLanes(lanes, steps);
  const move = (event: KeyboardEvent) => {
    const by = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
    if (by === 0) return;
    event.preventDefault();
    const next = Math.min(steps.length - 1, Math.max(0, at + by));
    setAt(next);
    grid.current?.querySelector<HTMLButtonElement>(`[data-step="${next}"]`)?.focus();
  };
  const chosen = steps[at];
  return (
    <Part
      title="Road"
      aside={
        <button type="button" className="btn btn-xs btn-ghost" onClick={() => setTable(!isTable)}>
          {isTable ? 'Show the road' : 'Show as a table'}
        </button>
      }
    >
      {isTable ? (
        <StepTable forth={forth} back={back} />
      ) : (
        <>
          <div
            ref={grid}
            role="toolbar"
            aria-label="Steps of the road"
            className="grid gap-y-1 overflow-x-auto px-px"
            // No knot covers the word of the next: where lanes do not fit, the road is moved, and the arrow keys move it along.
            style={{ gridTemplateColumns: `2.6rem repeat(${folded.shown.length}, minmax(4.4rem, 1fr))` }}
            onKeyDown={move}
          >
            <span />
            <LaneHeads lanes={folded.shown} />
            <Thread label="there" steps={forth} offset={0} lanes={folded.shown} chosen={at} onChoose={setAt} />
            {back.length > 0 && (
              <Thread
                label="back"
                steps={back}
                offset={forth.length}
                lanes={folded.shown}
                chosen={at}
                onChoose={setAt}
              />
            )}
          </div>
          {chosen !== undefined && <DecisionOf step={chosen} place={at < forth.length ? 'There' : 'Back'} />}
        </>
      )}
    </Part>
  );
}

function LaneHeads({ lanes }: Pick<ThreadProps, 'lanes'>) {
  return (
    <>
      {lanes.map(({ title, kind }, i) => (
        <div key={i} className="rule-b min-w-0 px-0.5 pb-0.5 text-center leading-tight" title={`${kind} ${title}`}>
          <div className="line-clamp-2 text-xs font-semibold break-words">{title}</div>
          <div className="quiet text-[11px]">{kind}</div>
        </div>
      ))}
    </>
  );
}

interface ThreadProps {
  readonly label: 'there' | 'back';
  readonly steps: readonly ShownStep[];
  /** The steps before its own. */
  readonly offset: number;
  readonly lanes: ReturnType<typeof foldLanes>['shown'];
  readonly chosen: number;
  readonly onChoose: (at: number) => void;
}

/** One direction of the road: its knots in their lanes, with a line as far as it went. */
function Thread({ label, steps, offset, lanes, chosen, onChoose }: ThreadProps) {
  // Nothing is drawn beyond the knot where a thread is cut.
  const met = lanes.flatMap(({ lanes: own }, column) =>
    steps.some((step) => own.includes(step.lane)) ? [column] : [],
  );
  const ends = { first: met[0] ?? 0, last: met.at(-1) ?? 0 };
  return (
    <>
      <span className="quiet flex items-center text-xs">{label}</span>
      {lanes.map((lane, column) => (
        <div
          key={column}
          className={`flex min-h-8 flex-wrap content-center items-center justify-center gap-0.5 ${column >= ends.first && column <= ends.last ? 'road-thread' : ''}`}
        >
          {steps.map((step, i) =>
            lane.lanes.includes(step.lane) ? (
              <Knot
                key={i}
                step={step}
                index={offset + i}
                isBack={label === 'back'}
                isChosen={offset + i === chosen}
                onChoose={onChoose}
              />
            ) : null,
          )}
        </div>
      ))}
    </>
  );
}

/** What was decided at one knot: the table with the rows that lost, rules, addresses before and after, room left. */
function DecisionOf({ step, place }: { readonly step: ShownStep; readonly place: string }) {
  const path = usePlanPath();
  const { description, table, rules, before, source, destination, wraps, room } = step;
  return (
    <div aria-live="polite" className="mt-2">
      <p>
        <span className="quiet">{place}: </span>
        {description}
      </p>
      {table !== undefined && <TableOf table={table} />}
      {rules.map((rule) => (
        <p key={rule.words}>
          <Link className="hover:underline" to={path(rule.path)}>
            {rule.words}
          </Link>
        </p>
      ))}
      <dl className="mt-1 grid grid-cols-[auto_1fr] gap-x-3">
        {before !== undefined && <Fact name="Before" isMono value={`${before.source} to ${before.destination}`} />}
        {source !== destination && (
          <Fact name={before === undefined ? 'Addresses' : 'After'} isMono value={`${source} to ${destination}`} />
        )}
        {wraps !== '' && <Fact name="Inside" value={wraps} />}
        {room !== undefined && <Fact name="Largest packet so far" value={`${formatNumber(room)} bytes`} />}
      </dl>
    </div>
  );
}

function Fact({
  name,
  value,
  isMono = false,
}: {
  readonly name: string;
  readonly value: string;
  readonly isMono?: boolean;
}) {
  return (
    <>
      <dt className="quiet">{name}</dt>
      <dd className={isMono ? 'font-mono text-[13px]' : undefined}>{value}</dd>
    </>
  );
}

/** The rows of a table that an address met: the one that decides, and those that lost. */
function TableOf({ table }: { readonly table: NonNullable<ShownStep['table']> }) {
  const path = usePlanPath();
  return (
    <table className="mt-1 w-full" aria-label={table.name}>
      <caption className="quiet text-left">{table.name}</caption>
      <tbody>
        {table.decided !== undefined && (
          <tr className="rule-b font-semibold">
            <td className="pr-3 font-mono text-[13px]">{table.decided.prefix}</td>
            <td className="pr-3">{table.decided.hop}</td>
            <td>
              <Link className="hover:underline" to={path(table.decided.path)}>
                {table.decided.from}
              </Link>
            </td>
            <td className="text-right">decides</td>
          </tr>
        )}
        {table.lost.map((row, i) => (
          <tr key={i} className="rule-b quiet">
            <td className="pr-3 font-mono text-[13px]">{row.prefix}</td>
            <td className="pr-3">{row.hop}</td>
            <td>{row.from}</td>
            <td className="text-right">{row.why}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** The same road as a table, for reading and copying. */
function StepTable({ forth, back }: { readonly forth: readonly ShownStep[]; readonly back: readonly ShownStep[] }) {
  return (
    <table className="w-full" aria-label="Steps of the road">
      <TableHead labels={['Way', 'Step', 'What happens']} />
      <tbody>
        {[...forth.map((step) => ['there', step] as const), ...back.map((step) => ['back', step] as const)].map(
          ([way, { event, description }], i) => (
            <tr key={i} className="rule-b align-top">
              <td className="quiet pr-3">{way}</td>
              <td className="pr-3">{event}</td>
              <td>{description}</td>
            </tr>
          ),
        )}
      </tbody>
    </table>
  );
}
