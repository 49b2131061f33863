import { screen } from '@testing-library/react';
import { demoPlan } from '@wide-lattice/core/demo';
import { emptyPlan } from '@wide-lattice/core/plan';
import { opened } from '../../test/openPlan';
import { DrillView } from './DrillView';

jest.mock('../worker/coreClient', () => jest.requireActual<object>('../../test/openPlan'));

test('a fault that is added is drilled, kept in the address, and can be left out again', async () => {
  const { user } = opened(demoPlan(), () => <DrillView />);
  const [fault] = await screen.findAllByRole('button', { name: /harbour-ops/ });
  await user.click(fault as HTMLElement);
  expect(new URLSearchParams(window.location.search).get('first')).not.toBeNull();
  // The harbour has one gateway: no other takes over, so that uses of its services break or wait.
  await screen.findByRole('button', { name: 'Compare with another drill' });
  await user.click(screen.getByRole('button', { name: /^Leave out/ }));
  expect(new URLSearchParams(window.location.search).get('first')).toBeNull();
});

test('without a connection it says when something can fail', async () => {
  opened(emptyPlan({ name: 'empty' }), () => <DrillView />);
  expect(await screen.findByText(/^No connection is active yet/)).toBeTruthy();
});
