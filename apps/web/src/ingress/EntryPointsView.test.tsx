import { screen, waitFor } from '@testing-library/react';
import { demoPlan } from '@wide-lattice/core/demo';
import { opened } from '../../test/openPlan';
import { EntryPointsView } from './EntryPointsView';

jest.mock('../worker/coreClient', () => jest.requireActual<object>('../../test/openPlan'));

const setUp = (address = '/') => opened(demoPlan(), () => <EntryPointsView />, address);

test('marking a host leaves what it leads to, and the address holds the mark', async () => {
  const { user } = setUp();
  await user.click(await screen.findByText('tide.models.skerryline.example'));
  expect(new URLSearchParams(window.location.search).get('entry')).not.toBeNull();
  // By hand: its gateway sends it to the two versions of the tide service, and to no other.
  const shown = document.body.textContent;
  for (const linked of ['models/tide-v1', 'models/tide-v2', 'models-front']) expect(shown).toContain(linked);
  for (const other of ['shop/basket', 'ops/berth-board', 'kiosk/tickets']) expect(shown).not.toContain(other);
});

test('what ends openly says why: a class that no controller serves, a port on which nothing listens', async () => {
  setUp();
  await screen.findByText('offers.skerryline.example');
  const titles = [...document.querySelectorAll('[title]')].map((each) => each.getAttribute('title') ?? '');
  expect(titles.join(' ')).toMatch(/no controller/i);
  expect(screen.getByText('4 open ends')).toBeTruthy();
});

test('a filter leaves the lists with what it is in', async () => {
  const { user } = setUp();
  await screen.findByText('tickets.pier.example');
  await user.type(screen.getByRole('searchbox'), 'berth');
  await waitFor(() => expect(screen.queryByText('tickets.pier.example')).toBeNull());
  expect(screen.getAllByText('ops/berth-board').length).toBeGreaterThan(0);
});
