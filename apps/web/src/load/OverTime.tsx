import type { LoadResult } from '@wide-lattice/core/load';
import { Chart, Legend, LineController, LineElement, LinearScale, PointElement, Tooltip } from 'chart.js';
import { useEffect, useRef, useState } from 'react';
import { TableHead } from '../shared/TableHead';

Chart.register(LineController, LineElement, LinearScale, PointElement, Tooltip, Legend);

type Interval = LoadResult['intervals'][number];

interface Line {
  readonly label: string;
  /** A custom property of the theme. */
  readonly colour: string;
  readonly dash: readonly number[];
  readonly of: (interval: Interval, length: number) => number | undefined;
}

const rate = (label: string, colour: string, field: keyof Interval, dash: readonly number[] = []): Line => ({
  label,
  colour,
  dash,
  of: (interval, length) => (interval[field] ?? 0) / length,
});

const charts: readonly { readonly title: string; readonly unit: string; readonly lines: readonly Line[] }[] = [
  {
    title: 'Requests per second',
    unit: '',
    lines: [
      rate('answered', '--color-primary', 'answered'),
      rate('limited', '--color-info', 'limited', [6, 3]),
      rate('refused', '--color-warning', 'refused', [2, 2]),
      rate('timed out', '--color-error', 'timedOut', [4, 2]),
      rate('lost', '--color-error', 'failed'),
    ],
  },
  {
    title: 'Response time',
    unit: 'ms',
    lines: [
      { label: 'half within', colour: '--color-primary', dash: [], of: ({ p50 }) => p50 },
      { label: '95 of 100', colour: '--color-warning', dash: [6, 3], of: ({ p95 }) => p95 },
      { label: '99 of 100', colour: '--color-error', dash: [2, 2], of: ({ p99 }) => p99 },
    ],
  },
  {
    title: 'Waiting requests',
    unit: '',
    lines: [{ label: 'waiting', colour: '--color-primary', dash: [], of: ({ waiting }) => waiting }],
  },
];

/** Charts over one time line, and the same as a table. */
export function OverTime({ result, seconds }: { readonly result: LoadResult; readonly seconds: number }) {
  const [isTable, setTable] = useState(false);
  return (
    <>
      <button type="button" className="btn btn-xs btn-ghost -mt-1 mb-1" onClick={() => setTable(!isTable)}>
        {isTable ? 'Show the charts' : 'Show as a table'}
      </button>
      {isTable ? (
        <TimeTable result={result} seconds={seconds} />
      ) : (
        charts
          .filter(({ lines }) => lines.some(({ of }) => result.intervals.some((each) => (of(each, 1) ?? 0) > 0)))
          .map((each) => <TimeChart key={each.title} {...each} result={result} seconds={seconds} />)
      )}
    </>
  );
}

interface ChartProps {
  readonly title: string;
  readonly unit: string;
  readonly lines: readonly Line[];
  readonly result: LoadResult;
  readonly seconds: number;
}

function TimeChart({ title, unit, lines, result, seconds }: ChartProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const length = seconds / result.intervals.length;
  useEffect(() => {
    const element = canvas.current;
    if (element === null) return undefined;
    const style = getComputedStyle(element);
    const colour = (name: string) => style.getPropertyValue(name);
    const ticks = { color: style.color, font: { family: style.fontFamily, size: 11 } };
    const shown = lines.filter(({ of }, i) => i === 0 || result.intervals.some((interval) => (of(interval, length) ?? 0) > 0)); // prettier-ignore
    const chart = new Chart(element, {
      type: 'line',
      data: {
        datasets: shown.map(({ label, colour: name, dash, of }) => ({
          label,
          data: result.intervals.flatMap((interval) => {
            const y = of(interval, length);
            return y === undefined ? [] : [{ x: interval.from + length / 2, y }];
          }),
          borderColor: colour(name),
          borderDash: [...dash],
          borderWidth: 1.5,
          pointRadius: 0,
          pointHitRadius: 8,
        })),
      },
      options: {
        animation: false,
        maintainAspectRatio: false,
        plugins: { legend: { position: 'right', labels: { ...ticks, boxWidth: 20, boxHeight: 1 } } },
        scales: {
          x: { type: 'linear', min: 0, max: seconds, grid: { color: colour('--color-base-300') }, ticks: { ...ticks, callback: (value) => `${value} s` } }, // prettier-ignore
          y: {
            type: 'linear',
            min: 0,
            grid: { color: colour('--color-base-300') },
            ticks: { ...ticks, maxTicksLimit: 5 },
          },
        },
      },
    });
    return () => chart.destroy();
  }, [lines, result, seconds, length]);
  return (
    <figure className="mb-2">
      <figcaption className="quiet">{unit === '' ? title : `${title}, ${unit}`}</figcaption>
      <div className="h-32">
        <canvas ref={canvas} role="img" aria-label={`${title} over the simulated time; the table has the figures`} />
      </div>
    </figure>
  );
}

function TimeTable({ result, seconds }: { readonly result: LoadResult; readonly seconds: number }) {
  const length = seconds / result.intervals.length;
  const lines = charts.flatMap((chart) => chart.lines);
  return (
    <table className="w-full" aria-label="The load over the time">
      <TableHead labels={['From', ...lines.map(({ label }) => label)]} rightFrom={0} />
      <tbody>
        {result.intervals.map((interval) => (
          <tr key={interval.from} className="rule-b text-right">
            <td>{Math.round(interval.from)} s</td>
            {lines.map(({ label, of }) => (
              <td key={label}>{of(interval, length)?.toLocaleString('en-US', { maximumFractionDigits: 1 }) ?? ''}</td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
