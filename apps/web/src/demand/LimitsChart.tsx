import { Chart, LineController, LineElement, LinearScale, PointElement, Tooltip } from 'chart.js';
import { useEffect, useRef } from 'react';
import { usePlan } from '../plan/PlanContext';
import { sayMonth } from '../shared/sayMonth';
import type { ClusterSheet } from '../worker/slices/clusterSheet';

Chart.register(LineController, LineElement, LinearScale, PointElement, Tooltip);

/** Three horizons are shown: far enough to see what comes next, near enough for a straight line to mean something. */
const SHOWN_HORIZONS = 3;
const dashes = [[], [8, 4], [3, 3], [10, 3, 2, 3], [1, 3]];

/** The cluster's nodes over time against each limit as a line: where they cross, the limit is passed. */
export function LimitsChart({ sheet }: { readonly sheet: ClusterSheet }) {
  const { plan } = usePlan();
  const canvas = useRef<HTMLCanvasElement>(null);
  const { horizonMonths } = plan.settings;
  const { nodesNow, nodesHorizon } = sheet.cluster;
  const until = SHOWN_HORIZONS * horizonMonths;
  const last = nodesNow + ((nodesHorizon - nodesNow) * until) / horizonMonths;
  // A limit far above all that is planned would press the rest flat.
  const limits = sheet.limits.filter(({ nodes }) => nodes.value <= 2 * Math.max(last, nodesNow, 1));
  const first = sheet.limits[0];
  const words =
    first === undefined
      ? 'Nothing limits growth yet.'
      : `${first.name} runs out first, ${sayMonth(first.month.value)}: ${first.nodes.value.toLocaleString('en-US')} nodes.`;
  useEffect(() => {
    const element = canvas.current;
    if (element === null) return undefined;
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
    const line = (label: string, from: number, to: number, stroke: string, dash: readonly number[]) => ({
      label,
      data: [
        { x: 0, y: from },
        { x: until, y: to },
      ],
      borderColor: stroke,
      borderWidth: 1.6,
      borderDash: [...dash],
      pointRadius: 0,
      pointHitRadius: 8,
    });
    const chart = new Chart(element, {
      type: 'line',
      data: {
        datasets: [
          line('nodes', nodesNow, last, colour('--color-primary'), []),
          ...limits.map(({ name, nodes }, i) =>
            line(name, nodes.value, nodes.value, colour('--color-error'), dashes[(i % (dashes.length - 1)) + 1] ?? []),
          ),
        ],
      },
      options: {
        animation: false,
        maintainAspectRatio: false,
        scales: { x: { ...axis('month'), max: until }, y: axis('nodes') },
      },
    });
    return () => chart.destroy();
  }, [nodesNow, last, until, limits]);
  if (sheet.limits.length === 0) return null;
  return (
    <figure className="mt-2">
      <div className="h-36">
        <canvas ref={canvas} role="img" aria-label={words} />
      </div>
      <figcaption className="quiet">
        Line: nodes at the planned growth. Dashed: {limits.map(({ name }) => name.toLowerCase()).join(', ')}.
      </figcaption>
    </figure>
  );
}
