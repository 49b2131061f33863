import { kindsAt, kindViews } from '../kinds/kindViews';
import { usePlan } from '../plan/PlanContext';
import { QuestionView } from '../question/QuestionView';
import { EntitySheet } from '../shared/EntitySheet';
import { Halves } from '../shared/Halves';
import { Tabs } from '../shared/Tabs';
import { useSearchState } from '../shared/useSearchState';
import { CertificateStrip } from './CertificateStrip';
import { CutOverView } from './CutOverView';
import { KeptPart } from './KeptPart';
import { NamesProposalView } from './NamesProposalView';
import { QueryLoadView } from './QueryLoadView';
import { VantagesView } from './VantagesView';
import { ZoneFilesView } from './ZoneFilesView';

const sheets = kindsAt('dns');
const sides = [
  { id: 'question', label: 'Question' },
  { id: 'vantages', label: 'Vantages' },
  { id: 'cut-over', label: 'Cut-over' },
  { id: 'load', label: 'Load' },
  { id: 'propose', label: 'Propose' },
  { id: 'files', label: 'Zone files' },
] as const;

/** Stop 7: zones, records and certificates on the left; on the right a question with its road, and what follows for names. */
export function DnsPage() {
  const [search, set] = useSearchState();
  const { plan } = usePlan();
  const kind = sheets.find((each) => each === search.get('show')) ?? 'records';
  const side = sides.find(({ id }) => id === search.get('side'))?.id ?? 'question';
  const rows: readonly { readonly id: string }[] = plan[kind];
  const chosen = rows.find(({ id }) => id === search.get('row'));
  return (
    <Halves
      rightWidth={side === 'vantages' ? '46rem' : side === 'files' ? '42rem' : '36rem'}
      left={
        <>
          <h1 className="sr-only">DNS</h1>
          <Tabs
            label="Which sheet"
            tabs={sheets.map((each) => ({ id: each, label: kindViews[each].tab, count: plan[each].length }))}
            chosen={kind}
            onChoose={(show) => set({ show, filter: '', group: '', cols: '', row: '' })}
          >
            {kind === 'certificates' && <CertificateStrip />}
            <div className="flex min-h-40 flex-1 flex-col">
              <EntitySheet
                key={kind}
                kind={kind}
                head={null}
                selectedId={chosen?.id ?? ''}
                onSelect={(id) => set({ row: id })}
              />
            </div>
            {(kind === 'records' || kind === 'keepers') && <KeptPart />}
          </Tabs>
        </>
      }
      right={
        <Tabs label="What follows" tabs={sides} chosen={side} onChoose={(id) => set({ side: id })}>
          {side === 'question' && <QuestionView />}
          {side === 'vantages' && <VantagesView />}
          {side === 'cut-over' && <CutOverView />}
          {side === 'load' && <QueryLoadView />}
          {side === 'propose' && <NamesProposalView />}
          {side === 'files' && <ZoneFilesView />}
        </Tabs>
      }
    />
  );
}
