import { select } from 'd3-selection';
import { zoom, zoomIdentity } from 'd3-zoom';
import type { ZoomBehavior, ZoomTransform } from 'd3-zoom';
import { Download, Maximize, ZoomIn, ZoomOut } from 'lucide-react';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { KeyboardEvent, RefObject } from 'react';
import { toast } from 'sonner';
import { useSlice } from '../plan/useSlice';
import { shortened } from '../shared/shortened';
import { Empty } from '../shared/Halves';
import { Menu, MenuItem } from '../shared/Menu';
import { useSearchState } from '../shared/useSearchState';
import type { DiagramEdge, DiagramNode, DiagramView } from '../worker/slices/diagram';
import { savePng, saveSvg } from './saveDiagram';

const STEP = 60;

/** Networks and links, drawn from the plan. Zoom by wheel, buttons and keys; pan by dragging and arrow keys. */
export function Diagram() {
  const view = useSlice('diagram');
  if (view === undefined) return <p className="quiet p-6">Drawing...</p>;
  if (view.nodes.length === 0) return <Empty>Add networks and links; the diagram draws itself from them.</Empty>;
  return <Drawing view={view} />;
}

function Drawing({ view }: { readonly view: DiagramView }) {
  const svg = useRef<SVGSVGElement>(null);
  const { transform, fit, by, onKey } = useZoom(svg, view);
  const [told, setTold] = useState('');
  const [, set] = useSearchState();
  const open = (node: DiagramNode) =>
    set(node.kind === 'hub' ? { show: 'links', filter: node.name } : { show: 'networks', filter: node.name });
  const save = async (how: typeof saveSvg) => {
    if (svg.current === null) return;
    const problem = await how(svg.current, view);
    if (problem !== '') toast.error(problem);
  };
  return (
    <section className="flex min-h-0 flex-1 flex-col px-4 py-2" aria-label="Diagram of networks">
      <Tools onZoom={by} onFit={fit} onSave={(how) => void save(how)} />
      <svg
        ref={svg}
        role="group"
        aria-label={`${view.nodes.length} networks and hubs, ${view.edges.length} joins`}
        tabIndex={0}
        className="border-base-300 min-h-80 w-full flex-1 cursor-grab border active:cursor-grabbing"
        onKeyDown={onKey}
      >
        <g transform={transform.toString()}>
          {view.edges.map((edge) => (
            <Edge key={edge.key} edge={edge} onTell={setTold} />
          ))}
          {view.nodes.map((node) => (
            <Node key={node.id} node={node} onOpen={() => open(node)} onTell={setTold} />
          ))}
        </g>
      </svg>
      <p className="quiet mt-1 min-h-10" aria-live="polite">
        {told === '' ? 'Solid: peering or hub. Double: tunnel. Thick: private circuit. Dashed: planned.' : told}
      </p>
    </section>
  );
}

/** Zooming and panning of the drawing, by wheel, dragging and keys. */
function useZoom(svg: RefObject<SVGSVGElement | null>, view: DiagramView) {
  const behaviour = useRef<ZoomBehavior<SVGSVGElement, unknown>>(undefined);
  const [transform, setTransform] = useState<ZoomTransform>(zoomIdentity);
  const fit = useCallback(() => {
    const element = svg.current;
    if (element === null || behaviour.current === undefined) return;
    const { width, height } = element.getBoundingClientRect();
    const scale = Math.min(1.4, width / view.width, height / view.height);
    const x = (width - view.width * scale) / 2;
    behaviour.current.transform(select(element), zoomIdentity.translate(x, 8).scale(scale));
  }, [svg, view.width, view.height]);
  useEffect(() => {
    const element = svg.current;
    if (element === null) return;
    behaviour.current = zoom<SVGSVGElement, unknown>()
      .scaleExtent([0.1, 4])
      .on('zoom', (event: { transform: ZoomTransform }) => setTransform(event.transform));
    select(element).call(behaviour.current).on('dblclick.zoom', null);
    fit();
  }, [svg, fit]);
  const by = (factor: number) => svg.current && behaviour.current?.scaleBy(select(svg.current), factor);
  const pan = (x: number, y: number) =>
    svg.current && behaviour.current?.translateBy(select(svg.current), x / transform.k, y / transform.k);
  const onKey = (event: KeyboardEvent) => {
    const moves: Record<string, [number, number]> = {
      ArrowLeft: [STEP, 0],
      ArrowRight: [-STEP, 0],
      ArrowUp: [0, STEP],
      ArrowDown: [0, -STEP],
    };
    const move = moves[event.key];
    if (move !== undefined) pan(...move);
    else if (event.key === '+' || event.key === '=') by(1.25);
    else if (event.key === '-') by(0.8);
    else if (event.key === '0') fit();
    else return;
    event.preventDefault();
  };
  return { transform, fit, by, onKey };
}

interface ToolsProps {
  readonly onZoom: (factor: number) => void;
  readonly onFit: () => void;
  readonly onSave: (how: typeof saveSvg) => void;
}

function Tools({ onZoom, onFit, onSave }: ToolsProps) {
  return (
    <div className="mb-1 flex items-center gap-1">
      <button
        type="button"
        className="btn btn-ghost btn-sm btn-square"
        aria-label="Zoom in"
        onClick={() => onZoom(1.25)}
      >
        <ZoomIn size={15} aria-hidden />
      </button>
      <button
        type="button"
        className="btn btn-ghost btn-sm btn-square"
        aria-label="Zoom out"
        onClick={() => onZoom(0.8)}
      >
        <ZoomOut size={15} aria-hidden />
      </button>
      <button type="button" className="btn btn-ghost btn-sm btn-square" aria-label="Show all" onClick={onFit}>
        <Maximize size={15} aria-hidden />
      </button>
      <span className="quiet flex-1 truncate text-xs">wheel or + and −, arrow keys, 0 for all</span>
      <Menu label="Save" icon={<Download size={14} aria-hidden />}>
        <MenuItem onChoose={() => onSave(saveSvg)}>SVG</MenuItem>
        <MenuItem onChoose={() => onSave(savePng)}>PNG</MenuItem>
      </Menu>
    </div>
  );
}

function Edge({ edge, onTell }: { readonly edge: DiagramEdge; readonly onTell: (text: string) => void }) {
  const path = edge.points.map(({ x, y }, i) => `${i === 0 ? 'M' : 'L'}${x},${y}`).join(' ');
  const stroke = edge.isPlanned ? 'var(--color-warning)' : 'var(--color-base-content)';
  const width = { peering: 1.4, hub: 1.4, tunnel: 5, circuit: 3.5 }[edge.kind];
  return (
    <g onMouseEnter={() => onTell(edge.detail)}>
      <path d={path} fill="none" stroke="transparent" strokeWidth={12} />
      <path
        d={path}
        fill="none"
        stroke={stroke}
        strokeWidth={width}
        strokeDasharray={edge.isPlanned ? '6 4' : undefined}
      />
      {edge.kind === 'tunnel' && <path d={path} fill="none" stroke="var(--color-base-100)" strokeWidth={2.4} />}
      {edge.label !== '' && (
        <text
          x={edge.labelAt.x}
          y={edge.labelAt.y}
          textAnchor="middle"
          dominantBaseline="central"
          fontSize={11}
          fill={stroke}
          stroke="var(--color-base-100)"
          strokeWidth={4}
          paintOrder="stroke"
        >
          {edge.label}
        </text>
      )}
      <title>{edge.detail}</title>
    </g>
  );
}

interface NodeProps {
  readonly node: DiagramNode;
  readonly onOpen: () => void;
  readonly onTell: (text: string) => void;
}

function Node({ node, onOpen, onTell }: NodeProps) {
  const { kind, name, detail, conflicts, x, y, width, height } = node;
  const isHub = kind === 'hub';
  const words = `${name}: ${detail}${conflicts > 0 ? `, ${conflicts} overlaps that break something` : ''}`;
  const shown = shortened(name, 17);
  return (
    <g
      role="button"
      tabIndex={0}
      aria-label={words}
      transform={`translate(${x} ${y})`}
      className="cursor-pointer"
      onClick={onOpen}
      onKeyDown={(event) => event.key === 'Enter' && onOpen()}
      onMouseEnter={() => onTell(words)}
      onFocus={() => onTell(words)}
    >
      <rect
        width={width}
        height={height}
        rx={isHub ? height / 2 : 3}
        fill={isHub ? 'var(--color-base-300)' : 'var(--color-base-100)'}
        stroke={conflicts > 0 ? 'var(--color-error)' : 'var(--color-base-content)'}
        strokeWidth={conflicts > 0 ? 2 : 1.2}
      />
      <text
        x={width / 2}
        y={isHub ? height / 2 : 18}
        textAnchor="middle"
        dominantBaseline={isHub ? 'central' : undefined}
        fontSize={14}
        fontWeight={600}
        fill="var(--color-base-content)"
      >
        {isHub ? name : shown}
      </text>
      {!isHub && (
        <text x={width / 2} y={35} textAnchor="middle" fontSize={11.5} fill="var(--color-base-content)">
          {conflicts > 0 ? `✕ ${conflicts} · ${detail}` : detail}
        </text>
      )}
    </g>
  );
}
