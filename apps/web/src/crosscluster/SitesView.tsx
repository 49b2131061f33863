import { formatNumber } from '@wide-lattice/core/working';
import { geoConicEqualArea, geoGraticule, geoPath } from 'd3-geo';
import { useMemo, useState } from 'react';
import { useSlice } from '../plan/useSlice';
import { Computing, Empty } from '../shared/Halves';
import { TableHead } from '../shared/TableHead';
import { TraceMark } from '../question/TraceMark';
import { useSearchState } from '../shared/useSearchState';
import type { MapSite, MapWay, SiteMap } from '../worker/slices/crossSlices';

const WIDTH = 600;
const HEIGHT = 330;
/** Room for labels at the edges. */
const EDGE = 46;
/** Sites up to which each is named. */
const MAX_NAMED = 14;
/** Rows of the table shown at once. */
const MAX_ROWS = 200;

const badness = ['broken', 'unknown', 'pass'];
const dashes: Readonly<Record<MapWay['method'], string>> = { tunnels: '', relays: '5 3', flat: '1.5 2.5' };
const words: Readonly<Record<MapWay['method'], string>> = { tunnels: 'tunnels', relays: 'relays', flat: 'flat' };

/** Sites by their coordinates over a plain grid of degrees, with the ways between them; the same as a table. */
export function SitesView() {
  const map = useSlice('siteMap');
  const [search, set] = useSearchState();
  const [marked, setMarked] = useState('');
  const filter = (search.get('ways') ?? '').toLowerCase();
  const nameOf = useMemo(() => new Map((map?.sites ?? []).map(({ id, name }) => [id, name])), [map]);
  if (map === undefined) return <Computing />;
  if (map.sites.length === 0)
    return (
      <Empty>
        {map.placeless.length === 0
          ? 'No connections yet: sites that are joined are drawn here by their coordinates.'
          : `The sites that are joined have no coordinates: ${map.placeless.join(', ')}. Enter latitude and longitude at the stop Ground.`}
      </Empty>
    );
  const said = ({ from, to, connection }: MapWay) => `${nameOf.get(from) ?? ''} ${nameOf.get(to) ?? ''} ${connection}`;
  const rows = map.ways
    .filter((way) => said(way).toLowerCase().includes(filter))
    .sort((a, b) => badness.indexOf(markOf(a)) - badness.indexOf(markOf(b)) || b.km - a.km);
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <Drawing map={map} marked={marked} ways={rows} />
      <div className="rule-b flex items-center gap-3 px-4 py-1.5">
        <Legend ways={map.ways} />
        {map.placeless.length > 0 && <span className="quiet">without coordinates: {map.placeless.join(', ')}</span>}
        <input
          className="input input-sm ml-auto w-44"
          placeholder="Filter by site or connection"
          aria-label="Filter the ways"
          value={search.get('ways') ?? ''}
          onChange={(event) => set({ ways: event.target.value })}
        />
      </div>
      <div className="min-h-0 flex-1 overflow-auto px-4" tabIndex={0} role="group" aria-label="Ways between sites">
        <table className="w-full" aria-label="Ways between sites">
          <TableHead
            labels={['Between', 'Connection', 'Ways', 'Distance', 'Latency floor', 'Largest packet']}
            rightFrom={3}
          />
          <tbody>
            {rows.slice(0, MAX_ROWS).map((way) => (
              <WayRow key={keyOf(way)} way={way} names={nameOf} onPoint={setMarked} />
            ))}
          </tbody>
        </table>
        {rows.length > MAX_ROWS && <p className="quiet py-1">{rows.length - MAX_ROWS} more; filter to narrow</p>}
      </div>
    </div>
  );
}

function WayRow({
  way,
  names,
  onPoint,
}: {
  readonly way: MapWay;
  readonly names: ReadonlyMap<string, string>;
  readonly onPoint: (way: string) => void;
}) {
  return (
    <tr
      className="rule-b align-top hover:bg-base-200"
      onMouseEnter={() => onPoint(keyOf(way))}
      onMouseLeave={() => onPoint('')}
    >
      <th scope="row" className="py-0.5 pr-2 text-left font-normal">
        {names.get(way.from)} and {names.get(way.to)}
      </th>
      <td className="pr-2">
        {way.connection}{' '}
        <span className="quiet">{way.isPlanned ? `${words[way.method]}, planned` : words[way.method]}</span>
      </td>
      <td title={way.description}>
        <TraceMark verdict={markOf(way)} word={`${way.passes} of ${way.of}`} />
      </td>
      <td className="text-right whitespace-nowrap">{formatNumber(way.km)} km</td>
      <td className="pl-3 text-right whitespace-nowrap">{way.floorMs} ms</td>
      <td className="pl-3 text-right whitespace-nowrap">
        {way.room === 0 ? 'none' : `${formatNumber(way.room)} bytes`}
      </td>
    </tr>
  );
}

function keyOf({ connection, from, to }: MapWay): string {
  return `${connection} ${from} ${to}`;
}

function markOf({ passes, unknown, of }: MapWay): 'pass' | 'unknown' | 'broken' {
  return passes === of ? 'pass' : passes + unknown === of ? 'unknown' : 'broken';
}

function Legend({ ways }: { readonly ways: readonly MapWay[] }) {
  const kinds = (['tunnels', 'relays', 'flat'] as const).filter((kind) => ways.some(({ method }) => method === kind));
  return (
    <span className="flex items-center gap-4">
      {kinds.map((kind) => (
        <span key={kind} className="flex items-center gap-1.5">
          <svg width={26} height={6} aria-hidden>
            <line x1={0} y1={3} x2={26} y2={3} stroke="currentColor" strokeWidth={1.6} strokeDasharray={dashes[kind]} />
          </svg>
          {words[kind]}
        </span>
      ))}
      <span className="text-error font-semibold">thick: a way does not work</span>
    </span>
  );
}

function Drawing({
  map,
  ways,
  marked,
}: {
  readonly map: SiteMap;
  readonly ways: readonly MapWay[];
  readonly marked: string;
}) {
  const { sites } = map;
  const { path, at, graticule } = useMemo(() => projected(sites), [sites]);
  const place = new Map(sites.map((site) => [site.id, at(site)]));
  // Of many sites those at the edge are named under the mouse alone.
  const isNamed = ({ id, isEdge }: MapSite) => sites.length <= MAX_NAMED || !isEdge || marked.split(' ').includes(id);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="rule-b w-full"
      role="img"
      aria-label={`${sites.length} sites and ${map.ways.length} ways between them; the table below has the same`}
    >
      <path d={path(graticule()) ?? ''} fill="none" stroke="var(--color-base-300)" strokeWidth={0.6} />
      {ways.map((way) => (
        <WayLine key={keyOf(way)} way={way} sites={sites} path={path} marked={marked} />
      ))}
      {sites.map((site) => {
        const [x, y] = place.get(site.id) ?? [0, 0];
        const size = 3 + Math.min(4, site.clusters.length);
        return (
          <g key={site.id}>
            <rect x={x - size / 2} y={y - size / 2} width={size} height={size} fill="var(--color-base-content)">
              <title>{`${site.name}: ${site.clusters.join(', ')}`}</title>
            </rect>
            {isNamed(site) && (
              <text
                x={x + (x > WIDTH - 110 ? -6 : 6)}
                y={y - 5}
                textAnchor={x > WIDTH - 110 ? 'end' : 'start'}
                fontSize={11}
                fill="var(--color-base-content)"
                stroke="var(--color-base-100)"
                strokeWidth={3}
                paintOrder="stroke"
              >
                {site.name}
              </text>
            )}
          </g>
        );
      })}
    </svg>
  );
}

function WayLine({
  way,
  sites,
  path,
  marked,
}: {
  readonly way: MapWay;
  readonly sites: readonly MapSite[];
  readonly path: ReturnType<typeof projected>['path'];
  readonly marked: string;
}) {
  const ends = [sites.find(({ id }) => id === way.from), sites.find(({ id }) => id === way.to)];
  if (ends.some((each) => each === undefined)) return null;
  const coordinates = ends.map((each) => [each?.longitude ?? 0, each?.latitude ?? 0] as [number, number]);
  const isBad = markOf(way) === 'broken';
  const key = keyOf(way);
  return (
    <path
      d={path({ type: 'LineString', coordinates }) ?? ''}
      fill="none"
      stroke={isBad ? 'var(--color-error)' : 'var(--color-primary)'}
      strokeOpacity={way.isPlanned ? 0.45 : marked === '' || marked === key ? 0.85 : 0.2}
      strokeWidth={isBad ? 2.6 : marked === key ? 2.2 : 1.1}
      strokeDasharray={dashes[way.method]}
    >
      <title>{`${way.connection}, ${words[way.method]}: ${formatNumber(way.km)} km, ${way.floorMs} ms${way.description === '' ? '' : `. ${way.description}`}`}</title>
    </path>
  );
}

/** A projection that holds all sites, equal in area, with its graticule: lines by whole degrees, so many that they help and do not crowd. */
function projected(sites: readonly MapSite[]) {
  const longitudes = sites.map(({ longitude }) => longitude);
  const latitudes = sites.map(({ latitude }) => latitude);
  const [west, east, south, north] = [
    Math.min(...longitudes),
    Math.max(...longitudes),
    Math.min(...latitudes),
    Math.max(...latitudes),
  ];
  const span = Math.max(east - west, north - south, 1);
  const step = [1, 2, 5, 10, 20, 30].find((each) => span / each <= 8) ?? 30;
  const box = {
    type: 'MultiPoint' as const,
    coordinates: [
      [west, south],
      [east, north],
      [west, north],
      [east, south],
    ],
  };
  const projection = geoConicEqualArea()
    .rotate([-(west + east) / 2, 0])
    .parallels([Math.max(-80, south - 1), Math.min(80, north + 1.5)])
    .fitExtent(
      [
        [EDGE, EDGE / 2],
        [WIDTH - EDGE, HEIGHT - EDGE / 2],
      ],
      box,
    );
  const at = ({ longitude, latitude }: MapSite): readonly [number, number] => {
    const [x = 0, y = 0] = projection([longitude, latitude]) ?? [];
    return [x, y];
  };
  const graticule = geoGraticule()
    .step([step, step])
    .extent([
      [west - 4 * step, Math.max(-88, south - 4 * step)],
      [east + 4 * step, Math.min(88, north + 4 * step)],
    ]);
  return { path: geoPath(projection), at, graticule };
}
