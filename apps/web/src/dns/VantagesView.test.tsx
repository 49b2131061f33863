import { screen, within } from '@testing-library/react';
import { demoPlan } from '@wide-lattice/core/demo';
import { emptyPlan } from '@wide-lattice/core/plan';
import { opened } from '../../test/openPlan';
import { VantagesView } from './VantagesView';

jest.mock('../worker/coreClient', () => jest.requireActual<object>('../../test/openPlan'));

const setUp = (address = '/') => opened(demoPlan(), () => <VantagesView />, address);

const rowOf = (name: string) => screen.getByText(name).closest('tr') as HTMLElement;

test('a name with a public and an internal answer has both, each at its vantage', async () => {
  setUp();
  // The demo answers seats.skerryline.example by its public load balancer, inside and outside.
  await screen.findByText('seats.skerryline.example');
  expect(rowOf('seats.skerryline.example').textContent).toContain('203.0.113.80');
  // A name that the harbour asks for while it is installed, and that is not entered yet.
  expect(rowOf('api.harbour-ops.harbour.skerryline.example').textContent).toContain('NXDOMAIN');
});

test('a filter in the address leaves the names that it is in, and says how many of all', async () => {
  setUp('/?names=tickets');
  await screen.findByText('tickets.skerryline.example');
  const names = within(screen.getByRole('group', { name: 'Names at vantages' }))
    .getAllByRole('row')
    .slice(1)
    .map((row) => row.textContent);
  expect(names.length).toBeGreaterThan(0);
  expect(names.every((text) => text.includes('tickets'))).toBe(true);
});

test('a plan without names says what to enter', async () => {
  opened(emptyPlan({ name: 'empty' }), () => <VantagesView />);
  expect(await screen.findByText(/^No names yet\. Enter zones and records/)).toBeTruthy();
});
