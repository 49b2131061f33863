import { screen } from '@testing-library/react';
import { demoPlan } from '@wide-lattice/core/demo';
import { opened } from '../../test/openPlan';
import { HandoverPage } from './HandoverPage';

jest.mock('../worker/coreClient', () => jest.requireActual<object>('../../test/openPlan'));

test('nothing is called ready before the findings are counted', async () => {
  opened(demoPlan(), () => <HandoverPage />);
  expect(screen.queryByText('There is no conflict.')).toBeNull();
  expect(screen.queryByText('Every cluster has its ranges.')).toBeNull();
  // The demo leaves two overlaps and four clusters without ranges on purpose.
  expect(await screen.findByText('2 conflicts are left: do not build from this yet.')).toBeTruthy();
  expect(screen.getByText('4 clusters lack ranges.')).toBeTruthy();
  expect(screen.queryByText('There is no conflict.')).toBeNull();
});
