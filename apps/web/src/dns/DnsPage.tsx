import { kindsAt } from '../kinds/kindViews';
import { QuestionView } from '../question/QuestionView';
import { Halves } from '../shared/Halves';
import { headsOf, SheetsHalf } from '../shared/SheetsHalf';
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
const heads = headsOf(sheets);
const sides = [
  { id: 'question', label: 'Question' },
  { id: 'cut-over', label: 'Cut-over' },
  { id: 'load', label: 'Load' },
  { id: 'propose', label: 'Propose' },
  { id: 'files', label: 'Zone files' },
] as const;

/** Stop 7: zones, records and certificates on the left; on the right a question with its road, and what follows for names. */
export function DnsPage() {
  const [search, set] = useSearchState();
  const kind = sheets.find((each) => each === search.get('show'));
  const side = sides.find(({ id }) => id === search.get('side'))?.id ?? 'question';
  return (
    <Halves
      screen="dns"
      rightWidth="40rem"
      left={
        <SheetsHalf
          title="DNS"
          heads={heads}
          picture={{ label: 'Vantages', view: <VantagesView /> }}
          kind={kind}
          above={kind === 'certificates' && <CertificateStrip />}
          below={(kind === 'records' || kind === 'recordControllers') && <KeptPart />}
        />
      }
      right={
        <Tabs label="What follows" tabs={sides} chosen={side} onChoose={(id) => set({ side: id })}>
          {side === 'question' && <QuestionView stop="dns" />}
          {side === 'cut-over' && <CutOverView />}
          {side === 'load' && <QueryLoadView />}
          {side === 'propose' && <NamesProposalView />}
          {side === 'files' && <ZoneFilesView />}
        </Tabs>
      }
    />
  );
}
