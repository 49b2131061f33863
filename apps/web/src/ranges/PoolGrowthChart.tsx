import { Chart, LineController, LineElement, LinearScale, PointElement, Tooltip } from 'chart.js';
import type { ChartOptions } from 'chart.js';
import { useEffect, useRef } from 'react';
import { useSlice } from '../plan/useSlice';
import type { PoolGrowth } from '@wide-lattice/core/allocation';

Chart.register(LineController, LineElement, LinearScale, PointElement, Tooltip);

/** How the need for a pool grows against what is allocated and what there is, month by month. */
export function PoolGrowthChart({ poolId }: { readonly poolId: string }) {
  const growth = useSlice('poolGrowth', poolId);
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const element = canvas.current;
    if (element === null || growth === undefined) return undefined;
    const chart = drawn(element, growth);
    return () => chart.destroy();
  }, [growth]);
  if (growth === undefined) return null;
  const percent = Math.round((100 * growth.allocated) / growth.size);
  const words = lastingOf(growth);
  return (
    <figure className="mt-3">
      <figcaption className="mb-1">
        <strong className={growth.exhausted === undefined ? '' : 'text-error'}>{words}</strong>{' '}
        <span className="quiet">
          Line: addresses needed. Dashed: allocated{percent < 1 ? ' (below 1 %)' : ` (${percent} %)`}. Dotted: the pool.
        </span>
      </figcaption>
      <div className="h-40">
        <canvas ref={canvas} role="img" aria-label={words} />
      </div>
    </figure>
  );
}

/** When the pool is exhausted. */
function lastingOf({ poolName, exhausted, points }: PoolGrowth): string {
  if (exhausted === undefined)
    return `At the planned growth, ${poolName} lasts beyond month ${points.at(-1)?.month ?? 0}.`;
  if (exhausted === 0) return `${poolName} is too small already.`;
  return `At the planned growth, ${poolName} is exhausted in month ${exhausted}.`;
}

function drawn(element: HTMLCanvasElement, growth: PoolGrowth): Chart<'line', { x: number; y: number }[]> {
  const style = getComputedStyle(element);
  const colour = (name: string) => style.getPropertyValue(name);
  const last = growth.points.at(-1)?.month ?? 0;
  const level = (label: string, value: number, stroke: string, dash: number[]) => ({
    label,
    data: [
      { x: 0, y: value },
      { x: last, y: value },
    ],
    borderColor: stroke,
    borderWidth: 1.5,
    borderDash: dash,
    pointRadius: 0,
  });
  return new Chart(element, {
    type: 'line',
    data: {
      datasets: [
        {
          label: 'needed',
          data: growth.points.map(({ month, required }) => ({ x: month, y: required })),
          borderColor: colour('--color-primary'),
          borderWidth: 2,
          stepped: 'before',
          pointRadius: 0,
          pointHitRadius: 8,
        },
        level('allocated', growth.allocated, colour('--purpose-pod'), [6, 4]),
        level('pool', growth.size, colour('--color-error'), [2, 3]),
      ],
    },
    options: optionsOf(style, last, growth.size),
  });
}

function optionsOf(style: CSSStyleDeclaration, last: number, size: number): ChartOptions<'line'> {
  const grid = { color: style.getPropertyValue('--color-base-300') };
  const ticks = { color: style.color, font: { family: style.fontFamily, size: 11 } };
  return {
    animation: false,
    maintainAspectRatio: false,
    // Its one line is said by the caption; another chart of the page may have brought the legend.
    plugins: { legend: { display: false } },
    scales: {
      x: {
        type: 'linear',
        min: 0,
        max: last,
        title: { display: true, text: 'month', color: style.color, font: ticks.font },
        grid,
        ticks,
      },
      y: {
        type: 'linear',
        min: 0,
        suggestedMax: size,
        grid,
        ticks: { ...ticks, callback: (value) => Number(value).toLocaleString('en-US', { notation: 'compact' }) },
      },
    },
  };
}
