import { Chart, Legend, LineController, LineElement, LinearScale, PointElement, Tooltip } from 'chart.js';
import { useEffect, useRef } from 'react';

Chart.register(LineController, LineElement, LinearScale, PointElement, Tooltip, Legend);

/** One line of a chart over time. */
interface ChartLine {
  readonly label: string;
  /** A custom property of the theme. */
  readonly colour: string;
  readonly dash: readonly number[];
  readonly points: readonly { readonly x: number; readonly y: number }[];
}

interface ChartProps {
  readonly title: string;
  /** What it shows, for those who do not see it. */
  readonly about: string;
  readonly lines: readonly ChartLine[];
  readonly first?: number;
  readonly last: number;
  /** Largest value of the upright axis; as it comes when absent. */
  readonly most?: number;
  /** Where the names of the lines stand: beside it, or below where they are long. */
  readonly legend?: 'right' | 'bottom';
  readonly formatTime: (value: number) => string;
}

/** Lines over one time line; a table with the figures stands beside it wherever it is used. */
export function LineChart({ title, about, lines, first = 0, last, most, legend = 'right', formatTime }: ChartProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const element = canvas.current;
    if (element === null) return undefined;
    const style = getComputedStyle(element);
    const colour = (name: string) => style.getPropertyValue(name);
    const ticks = { color: style.color, font: { family: style.fontFamily, size: 11 } };
    const grid = { color: colour('--color-base-300') };
    const chart = new Chart(element, {
      type: 'line',
      data: {
        datasets: lines.map(({ label, colour: name, dash, points }) => ({
          label,
          data: [...points],
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
        plugins: { legend: { position: legend, align: 'start', labels: { ...ticks, boxWidth: 20, boxHeight: 1 } } },
        scales: {
          x: {
            type: 'linear',
            min: first,
            max: last,
            grid,
            ticks: { ...ticks, maxTicksLimit: 8, callback: (value) => formatTime(Number(value)) },
          },
          y: {
            type: 'linear',
            min: 0,
            ...(most === undefined ? {} : { max: most }),
            grid,
            ticks: { ...ticks, maxTicksLimit: 5 },
          },
        },
      },
    });
    return () => chart.destroy();
  }, [lines, first, last, most, legend, formatTime]);
  return (
    <figure className="mb-2">
      <figcaption className="quiet">{title}</figcaption>
      <div className={legend === 'right' ? 'h-32' : 'h-56'}>
        <canvas ref={canvas} role="img" aria-label={about} />
      </div>
    </figure>
  );
}
