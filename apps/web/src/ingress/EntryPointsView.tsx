import { formatEntryPointLack } from '@wide-lattice/core/english';
import { formatCount } from '@wide-lattice/core/working';
import { Unplug } from 'lucide-react';
import { Link } from 'react-router';
import { kindViews } from '../kinds/kindViews';
import { usePlanPath } from '../plan/usePlanPath';
import { useSlice } from '../plan/useSlice';
import { Computing, Empty } from '../shared/Halves';
import { EntryPointsDrawing } from './EntryPointsDrawing';
import { useSearchState } from '../shared/useSearchState';
import type { ShownEntryPoints } from '../worker/slices/ingressSlices';

type Entry = ShownEntryPoints['entries'][number];

const lists = [
  { id: 'hosts', title: 'Hosts' },
  { id: 'listeners', title: 'Listeners' },
  { id: 'routes', title: 'Routes' },
  { id: 'services', title: 'Services' },
  { id: 'members', title: 'Members' },
] as const;

/** Five lists side by side, of which marking a row leaves what is linked to it. The address holds the mark and the filter. */
export function EntryPointsView() {
  const [search, set] = useSearchState();
  const filter = search.get('find') ?? '';
  const marked = search.get('entry') ?? '';
  const isDrawing = search.get('as') === 'drawing';
  const entryPoints = useSlice('entryPoints', filter);
  if (entryPoints === undefined) return <Computing />;
  const chosen = entryPoints.entries.find(({ key }) => key === marked);
  const linked = new Set(
    chosen === undefined ? [] : entryPoints.chains.filter((chain) => chain.includes(chosen.key)).flat(),
  );
  const isShown = ({ key }: Entry) => chosen === undefined || linked.has(key);
  const open = entryPoints.entries.filter((entry) => entry.open !== undefined && isShown(entry));
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="rule-b flex items-center gap-3 px-4 py-2">
        <input
          type="search"
          aria-label="Find an entry point"
          placeholder="Find a host, path, service or workload"
          className="input input-sm max-w-80 flex-1"
          value={filter}
          onChange={(event) => set({ find: event.target.value, entry: '' })}
        />
        {chosen !== undefined && (
          <button type="button" className="btn btn-sm btn-ghost" onClick={() => set({ entry: '' })}>
            Show all
          </button>
        )}
        <span className="quiet ml-auto">{formatOpenEnds(open.length, entryPoints.entries.length)}</span>
        <button
          type="button"
          className="btn btn-sm btn-ghost"
          onClick={() => set({ as: isDrawing ? '' : 'drawing', entry: '' })}
        >
          {isDrawing ? 'As lists' : 'As a drawing'}
        </button>
      </div>
      {entryPoints.entries.length === 0 ? (
        <Empty>
          {filter === ''
            ? 'No entry points yet. Add a load balancer with a listener, or a route of a class that a controller implements.'
            : `Nothing is called “${filter}”.`}
        </Empty>
      ) : isDrawing ? (
        <div className="overflow-auto" tabIndex={0} role="group" aria-label="Entry points as a drawing">
          <EntryPointsDrawing entryPoints={entryPoints} />
        </div>
      ) : (
        <Columns
          entryPoints={entryPoints}
          isShown={isShown}
          marked={chosen?.key}
          onMark={(key) => set({ entry: key === marked ? '' : key })}
        />
      )}
      {chosen !== undefined && <Marked entry={chosen} />}
    </div>
  );
}

function Columns({
  entryPoints: { entries, more },
  isShown,
  marked,
  onMark,
}: {
  readonly entryPoints: ShownEntryPoints;
  readonly isShown: (entry: Entry) => boolean;
  readonly marked: string | undefined;
  readonly onMark: (key: string) => void;
}) {
  return (
    <div className="grid min-h-40 flex-1 grid-cols-[1.75fr_1fr_1fr_1fr_1fr] overflow-auto">
      {lists.map(({ id, title }) => (
        <EntryPointColumn
          key={id}
          title={title}
          entries={entries.filter((entry) => entry.list === id && isShown(entry))}
          more={more[id] ?? 0}
          marked={marked}
          onMark={onMark}
        />
      ))}
    </div>
  );
}

function formatOpenEnds(open: number, all: number): string {
  if (all === 0) return '';
  if (open === 0) return 'every chain goes through';
  return formatCount(open, 'open end');
}

interface ColumnProps {
  readonly title: string;
  readonly entries: readonly Entry[];
  readonly more: number;
  readonly marked: string | undefined;
  readonly onMark: (key: string) => void;
}

function EntryPointColumn({ title, entries, more, marked, onMark }: ColumnProps) {
  return (
    <section aria-label={title} className="rule-r min-w-0">
      <h2 className="heading rule-b bg-base-100 sticky top-0 px-2.5 py-1.5">
        {title} <span className="quiet font-normal">{entries.length + more}</span>
      </h2>
      <ul>
        {entries.map(({ key, label, about, open }) => (
          <li key={key}>
            <button
              type="button"
              aria-pressed={key === marked}
              title={open === undefined ? `${label} ${about}`.trim() : formatEntryPointLack(open)}
              className={`hover:bg-base-200 w-full min-w-0 px-2.5 py-1 text-left ${key === marked ? 'bg-base-200 font-semibold' : ''}`}
              onClick={() => onMark(key)}
            >
              <span className="flex items-center gap-1">
                {open !== undefined && <Unplug size={13} aria-label="open end" className="text-error shrink-0" />}
                <span className="min-w-0 break-words">{label}</span>
              </span>
              {about !== '' && <span className="quiet block text-xs break-words">{about}</span>}
            </button>
          </li>
        ))}
      </ul>
      {more > 0 && <p className="quiet px-2.5 py-1">{more} more: find them by name.</p>}
    </section>
  );
}

/** What is marked: where its chain is broken, its row, and the question for a host. */
function Marked({ entry }: { readonly entry: Entry }) {
  const path = usePlanPath();
  const [, set] = useSearchState();
  const { list, label, open, subject } = entry;
  const isHost = list === 'hosts' && !label.startsWith('*') && label !== 'every host';
  return (
    <div className="rule-t flex flex-wrap items-center gap-3 px-4 py-2" aria-live="polite">
      <strong>{label}</strong>
      {open !== undefined && <span className="text-error">{formatEntryPointLack(open)}</span>}
      <span className="ml-auto flex gap-2">
        {subject !== undefined && (
          <Link
            className="btn btn-sm btn-outline"
            to={path(`${kindViews[subject.kind].stop}?show=${subject.kind}&row=${subject.id}`)}
          >
            Show its row
          </Link>
        )}
        {isHost && (
          <button
            type="button"
            className="btn btn-sm btn-primary"
            onClick={() => set({ side: 'question', from: 'the internet', to: `https://${label}/`, bytes: '1400' })}
          >
            Ask for it
          </button>
        )}
      </span>
    </div>
  );
}
