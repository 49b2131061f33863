import { demoPlan } from '@wide-lattice/core/demo';
import { evaluate } from '@wide-lattice/core/evaluation';
import type { Operation } from '@wide-lattice/core/plan';
import { render, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { SliceHost } from '../worker/sliceHost';
import { slices } from '../worker/slices';
import { ImportDialog } from './ImportDialog';

const demo = demoPlan();
const host = new SliceHost(evaluate(demo));
const commit = jest.fn<Promise<string>, [string, readonly Operation[]]>();

jest.mock('../plan/PlanContext', () => ({ usePlan: () => ({ plan: demo }) }));
jest.mock('../plan/useCommit', () => ({ useCommit: () => commit }));
jest.mock('../worker/coreClient', () => ({
  core: {
    ask: (
      name: 'importRows',
      ...args: Parameters<typeof slices.importRows> extends [unknown, ...infer A] ? A : never
    ) => Promise.resolve(slices[name](host, ...args)),
  },
}));

function setUp(initialText: string) {
  commit.mockReset().mockResolvedValue('');
  const onClose = jest.fn();
  render(<ImportDialog kind="networks" initialText={initialText} onClose={onClose} />);
  return { onClose, user: userEvent.setup() };
}

const button = () => screen.getByRole('button', { name: /^Import \d/ });

test('with no text there is nothing to import, and the columns are named', () => {
  setUp('');
  expect(button()).toHaveProperty('disabled', true);
  expect(screen.getByRole('dialog').textContent).toContain('Needed columns: Name.');
});

test('valid rows are taken, bad ones listed with line, field, problem and fix', async () => {
  const { onClose, user } = setUp('Name,MTU\nquay-lab,1500\nbad,wide');
  const bad = await screen.findByRole('table', { name: 'Rows that cannot be imported' });
  const [, row] = within(bad).getAllByRole('row');
  expect(row?.textContent).toMatch(/^3MTU.*wide/);
  expect(screen.getByText(/line cannot be imported/).textContent).toContain('1 line');
  await user.click(button());
  await waitFor(() => expect(onClose).toHaveBeenCalled());
  const [label, operations] = commit.mock.calls[0] ?? [];
  expect(label).toContain('Import 1');
  expect(operations).toMatchObject([{ op: 'add', kind: 'networks', entity: { name: 'quay-lab', mtu: 1500 } }]);
});

test('a heading that is no field is mapped by hand', async () => {
  const { user } = setUp('Name,Largest frame\nquay-lab,1400');
  await user.selectOptions(await screen.findByRole('combobox', { name: /Largest frame/ }), 'MTU');
  await waitFor(() => expect(button().textContent).toBe('Import 1 valid row'));
  await user.click(button());
  await waitFor(() => expect(commit).toHaveBeenCalled());
  expect(commit.mock.calls[0]?.[1]).toMatchObject([{ entity: { mtu: 1400 } }]);
});

test('what would change is shown from and to', async () => {
  const [network] = demo.networks;
  setUp(`Name,MTU\n${network?.name},1380`);
  const table = await screen.findByRole('table', { name: 'Rows that change what is there' });
  expect(within(table).getByText(`${network?.name}: MTU`)).toBeTruthy();
  expect(within(table).getByText('1,380')).toBeTruthy();
});

test('a refusal stays in the dialog with its reason, and nothing typed is lost', async () => {
  const { onClose, user } = setUp('Name,MTU\nquay-lab,1500');
  commit.mockResolvedValue('Somebody else changed the same; both sides are shown.');
  await waitFor(() => expect(button()).toHaveProperty('disabled', false));
  await user.click(button());
  expect((await screen.findByRole('alert')).textContent).toContain('Somebody else changed the same');
  expect(onClose).not.toHaveBeenCalled();
  expect(screen.getByRole('textbox')).toHaveProperty('value', 'Name,MTU\nquay-lab,1500');
});

test('a file that is not UTF-8 is refused and the text stays', async () => {
  const { user } = setUp('Name,MTU\nquay-lab,1500');
  const input = screen.getByLabelText('Choose a file');
  await user.upload(input, new File([new Uint8Array([0x73, 0xfc])], 'old.csv', { type: 'text/csv' }));
  expect((await screen.findByRole('alert')).textContent).toContain('old.csv is not UTF-8');
  expect(screen.getByRole('textbox')).toHaveProperty('value', 'Name,MTU\nquay-lab,1500');
});
