import type { LoadResult } from '@wide-lattice/core/load';
import { useMemo, useState } from 'react';
import { LineChart } from '../shared/LineChart';
import { TableHead } from '../shared/TableHead';

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
  {
    title: 'Pods in service',
    unit: '',
    lines: [{ label: 'pods', colour: '--color-primary', dash: [], of: ({ inService }) => inService }],
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
  const shown = useMemo(() => {
    const length = seconds / result.intervals.length;
    return lines
      .filter(({ of }, i) => i === 0 || result.intervals.some((interval) => (of(interval, length) ?? 0) > 0))
      .map(({ label, colour, dash, of }) => ({
        label,
        colour,
        dash,
        points: result.intervals.flatMap((interval) => {
          const y = of(interval, length);
          return y === undefined ? [] : [{ x: interval.from + length / 2, y }];
        }),
      }));
  }, [lines, result, seconds]);
  return (
    <LineChart
      title={unit === '' ? title : `${title}, ${unit}`}
      about={`${title} over the simulated time; the table has the figures`}
      lines={shown}
      last={seconds}
      formatTime={formatSeconds}
    />
  );
}

const formatSeconds = (value: number) => `${value} s`;

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
