import { formatNumber } from '@wide-lattice/core/working';
import { mostNodes } from '@wide-lattice/core/sizing';
import { Chart, LineController, LineElement, LinearScale, PointElement, Tooltip } from 'chart.js';
import { useEffect, useRef } from 'react';
import { formatMonth } from '../shared/formatMonth';
import type { ClusterSheet } from '../worker/slices/clusterSheet';

Chart.register(LineController, LineElement, LinearScale, PointElement, Tooltip);

const dashes = [[], [8, 4], [3, 3], [10, 3, 2, 3], [1, 3]];

/** The cluster's nodes over time against each limit as a line: where they cross, the limit is exceeded. */
export function LimitsChart({ sheet }: { readonly sheet: ClusterSheet }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { course } = sheet;
  const until = course.at(-1)?.month ?? 1;
  // A limit far above all that is planned would press the rest flat; so would compound growth long after the horizon.
  const high = 2 * Math.max(1, mostNodes(sheet));
  const limits = sheet.limits.filter(({ nodes }) => nodes.value <= high);
  const seen = Math.max(...course.map(({ nodes }) => nodes), ...limits.map(({ nodes }) => nodes.value));
  const top = 1.1 * Math.min(high, seen);
  const first = sheet.limits[0];
  const words =
    first === undefined
      ? 'Nothing limits growth yet.'
      : `${first.name} runs out first, ${formatMonth(first.month.value)}: ${formatNumber(first.nodes.value)} nodes.`;
  useEffect(() => {
    const element = canvas.current;
    if (element === null) return undefined;
    const chart = drawn(element, { course, limits, until, top });
    return () => chart.destroy();
  }, [course, top, until, limits]);
  if (sheet.limits.length === 0) return null;
  return (
    <figure className="mt-2">
      <div className="h-36">
        <canvas ref={canvas} role="img" aria-label={words} />
      </div>
      <figcaption className="quiet">
        Line: nodes at the planned growth.
        {limits.length > 0 && ` Dashed: ${limits.map(({ name }) => name).join(', ')}.`}
      </figcaption>
    </figure>
  );
}

interface Drawn extends Pick<ClusterSheet, 'course' | 'limits'> {
  /** The last month, and the nodes at the top of the axis. */
  readonly until: number;
  readonly top: number;
}

function drawn(
  element: HTMLCanvasElement,
  { course, limits, until, top }: Drawn,
): Chart<'line', { x: number; y: number }[]> {
  const style = getComputedStyle(element);
  const colour = (name: string) => style.getPropertyValue(name);
  const font = { family: style.fontFamily, size: 11 };
  const axis = (text: string) => ({
    type: 'linear' as const,
    min: 0,
    grid: { color: colour('--color-base-300') },
    ticks: { color: style.color, font },
    title: { display: true, text, color: style.color, font },
  });
  const line = (
    label: string,
    points: readonly { readonly x: number; readonly y: number }[],
    stroke: string,
    dash: readonly number[],
  ) => ({
    label,
    data: [...points],
    borderColor: stroke,
    borderWidth: 1.6,
    borderDash: [...dash],
    pointRadius: 0,
    pointHitRadius: 8,
  });
  return new Chart(element, {
    type: 'line',
    data: {
      datasets: [
        line(
          'nodes',
          course.map(({ month, nodes }) => ({ x: month, y: nodes })),
          colour('--color-primary'),
          [],
        ),
        ...limits.map(({ name, nodes }, i) =>
          line(
            name,
            [0, until].map((x) => ({ x, y: nodes.value })),
            colour('--color-error'),
            dashes[(i % (dashes.length - 1)) + 1] ?? [],
          ),
        ),
      ],
    },
    options: {
      animation: false,
      maintainAspectRatio: false,
      // The caption says what the lines are; another chart of the page may have brought the legend.
      plugins: { legend: { display: false } },
      scales: { x: { ...axis('month'), max: until }, y: { ...axis('nodes'), max: roundUp(top) } },
    },
  });
}

/** The next half power of ten or its like, so that the axis ends on a number people say. */
function roundUp(value: number): number {
  const step = 10 ** Math.floor(Math.log10(Math.max(1, value))) / 2;
  return Math.ceil(value / step) * step;
}
