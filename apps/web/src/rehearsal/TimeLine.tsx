import { formatDuration } from '@wide-lattice/core/english';
import { formatNumber } from '@wide-lattice/core/working';
import { Pause, Play } from 'lucide-react';
import { useEffect, useState } from 'react';
import type { ShownPhase, ShownRun } from '../worker/slices/rehearsalSlices';

interface TimeLineProps {
  readonly run: ShownRun & { readonly ok: true };
  readonly at: number;
  readonly phase: string;
  readonly onSecond: (at: number) => void;
  readonly onPhase: (phase: string) => void;
}

const WIDTH = 600;
const HEIGHT = 30;
/** Points at which a line is drawn. */
const POINTS = 120;
/** A run is played in so many steps, one each so many milliseconds. */
const STEPS = 100;
const STEP_MS = 150;

/** The run over time: of each phase how much is ready, and where something is refused; a second is chosen by sliding or played through. */
export function TimeLine({ run, at, phase, onSecond, onPhase }: TimeLineProps) {
  const [isPlaying, setPlaying] = useState(false);
  // The address follows what is slid; until it has, the slider stays where it was put.
  const [slid, setSlid] = useState({ from: at, to: at });
  const shown = slid.from === at ? slid.to : at;
  const { total } = run;
  useEffect(() => {
    if (!isPlaying) return;
    const timer = setTimeout(() => {
      const next = Math.min(total, Math.round(at + total / STEPS));
      onSecond(next);
      if (next >= total) setPlaying(false);
    }, STEP_MS);
    return () => clearTimeout(timer);
  }, [isPlaying, at, total, onSecond]);
  const play = () => {
    if (!isPlaying && at >= total) onSecond(0);
    setPlaying(!isPlaying);
  };
  return (
    <div className="px-4 py-2">
      <div className="mb-1.5 flex items-center gap-3">
        <button type="button" className="btn btn-xs btn-outline w-20" onClick={play}>
          {isPlaying ? <Pause size={13} aria-hidden /> : <Play size={13} aria-hidden />}
          {isPlaying ? 'Pause' : 'Play'}
        </button>
        <input
          type="range"
          className="range range-xs min-w-0 flex-1"
          aria-label="Time shown"
          aria-valuetext={formatDuration(shown)}
          min={0}
          max={Math.max(1, Math.ceil(total))}
          value={Math.round(shown)}
          onChange={(event) => {
            setSlid({ from: at, to: Number(event.target.value) });
            onSecond(Number(event.target.value));
          }}
        />
        <strong className="w-28 text-right tabular-nums">{formatDuration(shown)}</strong>
      </div>
      <table className="w-full" aria-label="Time line">
        <tbody>
          {run.phases.map((each) => (
            <PhaseRow
              key={each.phase}
              shown={each}
              total={total}
              at={at}
              isChosen={each.phase === phase}
              onChoose={() => onPhase(each.phase === phase ? '' : each.phase)}
            />
          ))}
        </tbody>
        <Scale total={total} />
      </table>
    </div>
  );
}

function Scale({ total }: { readonly total: number }) {
  return (
    <tfoot>
      <tr className="quiet text-xs">
        <td colSpan={2} />
        <td>
          <span className="flex justify-between">
            <span>0</span>
            <span>{formatDuration(total / 2)}</span>
            <span>{formatDuration(total)}</span>
          </span>
        </td>
      </tr>
    </tfoot>
  );
}

interface PhaseRowProps {
  readonly shown: ShownPhase;
  readonly total: number;
  readonly at: number;
  readonly isChosen: boolean;
  readonly onChoose: () => void;
}

function PhaseRow({ shown, total, at, isChosen, onChoose }: PhaseRowProps) {
  const { phase, objects, readyAt, refused, refusals } = shown;
  const x = (second: number) => (total === 0 ? 0 : (WIDTH * second) / total);
  const now = countUpTo(readyAt, at);
  return (
    <tr className={isChosen ? 'bg-base-200' : ''}>
      <th scope="row" className="w-36 py-0.5 pr-2 text-left font-normal whitespace-nowrap">
        <button
          type="button"
          className={`link-hover ${isChosen ? 'font-semibold' : ''}`}
          aria-pressed={isChosen}
          onClick={onChoose}
        >
          {phase}
        </button>
      </th>
      <td className="w-28 pr-3 text-right whitespace-nowrap tabular-nums">
        {formatNumber(now)} of {formatNumber(objects)}
        {refused > 0 && (
          <span className="text-error ml-1" title={`${refused} refused`}>
            ✕{refused}
          </span>
        )}
      </td>
      <td className="py-0.5">
        <svg
          viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
          preserveAspectRatio="none"
          className="block h-[30px] w-full"
          role="img"
          aria-label={`${phase}: ${formatNumber(shown.readyAt.length)} of ${formatNumber(objects)} ready in the end, ${formatNumber(refused)} refused`}
        >
          <rect width={WIDTH} height={HEIGHT} className="fill-base-200" />
          <path d={areaOf(shown, total)} className="fill-primary" opacity="0.75" />
          {/* What is still to come is paler. */}
          <rect x={x(at)} width={WIDTH - x(at)} height={HEIGHT} className="fill-base-100" opacity="0.6" />
          {refusals.map((second) => (
            <Mark key={second} x={x(second)} colour="stroke-error" dashes="3 2" />
          ))}
          <Mark x={x(at)} colour="stroke-base-content" dashes="" />
        </svg>
      </td>
    </tr>
  );
}

/** A second on the line of a phase. */
function Mark({ x, colour, dashes }: { readonly x: number; readonly colour: string; readonly dashes: string }) {
  return (
    <line
      x1={x}
      x2={x}
      y1={0}
      y2={HEIGHT}
      className={colour}
      strokeWidth="2"
      strokeDasharray={dashes}
      vectorEffect="non-scaling-stroke"
    />
  );
}

/** How many of some numbers in order are no greater than one. */
function countUpTo(ordered: readonly number[], most: number): number {
  let [low, high] = [0, ordered.length];
  while (low < high) {
    const middle = (low + high) >>> 1;
    if ((ordered[middle] ?? 0) <= most) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** The share that is ready over the time, from the foot of the line up. */
function areaOf({ readyAt, objects }: ShownPhase, total: number): string {
  const points = Array.from({ length: POINTS + 1 }, (_, point) => {
    const share = countUpTo(readyAt, (total * point) / POINTS) / objects;
    return `L${((WIDTH * point) / POINTS).toFixed(1)} ${(HEIGHT * (1 - share)).toFixed(1)}`;
  });
  return `M0 ${HEIGHT} ${points.join(' ')} L${WIDTH} ${HEIGHT} Z`;
}
