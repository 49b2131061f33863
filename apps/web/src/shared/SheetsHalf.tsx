import type { Kind } from '@wide-lattice/core/plan';
import type { ReactNode } from 'react';
import { kindViews } from '../kinds/kindViews';
import { usePlan } from '../plan/PlanContext';
import { EntitySheet } from './EntitySheet';
import { Tabs } from './Tabs';
import { useSearchState } from './useSearchState';

/** Sheets under one head; a head of one sheet is called as that is. */
export interface Head<K extends Kind> {
  readonly label: string;
  readonly kinds: readonly K[];
}

interface SheetsHalfProps<K extends Kind> {
  readonly title: string;
  readonly heads: readonly Head<K>[];
  /** What the stop opens on, as the first tab. */
  readonly picture: { readonly label: string; readonly view: ReactNode };
  /** The sheet that is shown; the picture when undefined. */
  readonly kind: K | undefined;
  /** What is shown of a kind instead of its plain sheet. */
  readonly sheet?: (kind: K) => ReactNode;
  /** What else of the address is reset by choosing another sheet. */
  readonly resets?: Readonly<Record<string, string>>;
  /** Whether the first row is marked while none is chosen. */
  readonly marksFirst?: boolean;
  /** Beside the sheet, above and below. */
  readonly above?: ReactNode;
  readonly below?: ReactNode;
}

const PICTURE = 'picture';

/** The deciding half of a stop: its picture, and its sheets as tabs under their heads. The address holds which one and the marked row. */
export function SheetsHalf<K extends Kind>({
  title,
  heads,
  picture,
  kind,
  sheet,
  resets,
  marksFirst = false,
  above,
  below,
}: SheetsHalfProps<K>) {
  const [, set] = useSearchState();
  const { plan } = usePlan();
  const choose = (show: string) => set({ show, filter: '', group: '', cols: '', row: '', ...resets });
  const rowsOf = (each: K) => (plan[each] as readonly unknown[]).length;
  const head = heads.find(({ kinds }) => kind !== undefined && kinds.includes(kind));
  return (
    <>
      <h1 className="sr-only">{title}</h1>
      <Tabs
        label="What is shown"
        tabs={[
          { id: PICTURE, label: picture.label },
          ...heads.map(({ label, kinds }) => ({
            id: kinds[0] as string,
            label,
            count: kinds.reduce((sum, each) => sum + rowsOf(each), 0),
          })),
        ]}
        chosen={head?.kinds[0] ?? PICTURE}
        onChoose={(id) => choose(id === PICTURE ? '' : id)}
      >
        {kind === undefined || head === undefined ? (
          picture.view
        ) : head.kinds.length === 1 ? (
          <>
            {above}
            {sheet?.(kind) ?? <PlainSheet kind={kind} marksFirst={marksFirst} />}
            {below}
          </>
        ) : (
          <Tabs
            label={`Sheets of ${head.label}`}
            tabs={head.kinds.map((each) => ({ id: each, label: kindViews[each].tab, count: rowsOf(each) }))}
            chosen={kind}
            onChoose={choose}
          >
            {above}
            {sheet?.(kind) ?? <PlainSheet kind={kind} marksFirst={marksFirst} />}
            {below}
          </Tabs>
        )}
      </Tabs>
    </>
  );
}

/** Each kind under a head of its own. */
export function headsOf<K extends Kind>(kinds: readonly K[]): readonly Head<K>[] {
  return kinds.map((kind) => ({ label: kindViews[kind].tab, kinds: [kind] }));
}

function PlainSheet({ kind, marksFirst }: { readonly kind: Kind; readonly marksFirst: boolean }) {
  const [search, set] = useSearchState();
  const { plan } = usePlan();
  const rows: readonly { readonly id: string }[] = plan[kind];
  const chosen = rows.find(({ id }) => id === search.get('row')) ?? (marksFirst ? rows[0] : undefined);
  return (
    <div className="flex min-h-40 flex-1 flex-col">
      <EntitySheet
        key={kind}
        kind={kind}
        head={null}
        selectedId={chosen?.id ?? ''}
        onSelect={(id) => set({ row: id })}
      />
    </div>
  );
}
