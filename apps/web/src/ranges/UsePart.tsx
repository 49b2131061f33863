import { formatNumber } from '@wide-lattice/core/working';
import { useSlice } from '../plan/useSlice';
import { FigureButton } from '../shared/FigureButton';
import { Empty } from '../shared/Halves';
import { PurposeTag } from '../shared/Marks';
import { Sheet } from '../shared/Sheet';
import type { SheetColumn } from '../shared/sheetColumn';
import type { ShownFigure } from '../worker/slices/figures';
import type { UtilisationRow } from '../worker/slices/utilisation';

const columns: readonly SheetColumn<UtilisationRow>[] = [
  { id: 'site', label: 'Site', width: 'minmax(6.5rem, 1fr)', value: (row) => row.siteName },
  {
    id: 'purpose',
    label: 'Purpose',
    width: '5.6rem',
    value: (row) => row.purpose,
    render: (row) => (
      <>
        <PurposeTag purpose={row.purpose} /> {row.purpose}
      </>
    ),
  },
  {
    id: 'addresses',
    label: 'Addresses',
    width: '7rem',
    align: 'right',
    value: (row) => row.addresses,
    render: (row) => formatNumber(row.addresses),
  },
  {
    id: 'now',
    label: 'Today',
    width: '4.9rem',
    align: 'right',
    value: (row) => row.usedNow.value,
    render: (row) => <Share figure={row.usedNow} />,
  },
  {
    id: 'horizon',
    label: 'Horizon',
    width: '5.3rem',
    align: 'right',
    value: (row) => row.usedHorizon.value,
    render: (row) => <Share figure={row.usedHorizon} />,
  },
  { id: 'routes', label: 'Routes', width: '4.4rem', align: 'right', value: (row) => row.routes },
];

function Share({ figure }: { readonly figure: ShownFigure }) {
  return (
    <span className={figure.value > 100 ? 'text-error font-semibold' : ''}>
      <FigureButton figure={figure}>{figure.value} %</FigureButton>
    </span>
  );
}

/** How full the ranges of each site and purpose are, today and at the horizon, and how many routes they take. */
export function UsePart() {
  const rows = useSlice('utilisation');
  if (rows === undefined) return <p className="quiet p-6">Computing...</p>;
  return (
    <Sheet
      label="Use by site and purpose"
      columns={columns}
      rows={rows}
      idOf={(row) => row.id}
      empty={<Empty>Allocate ranges to see how full they are.</Empty>}
    />
  );
}
