import { screen } from '@testing-library/react';
import { demoPlan } from '@wide-lattice/core/demo';
import type { Filter } from '@wide-lattice/core/plan';
import { opened } from '../../test/openPlan';
import { DependentsPart } from './DependentsPart';

jest.mock('../worker/coreClient', () => jest.requireActual<object>('../../test/openPlan'));

const demo = demoPlan();

test('a filter that decides about a need names the need and who has it', async () => {
  const { id, name } = demo.filters.find((filter) => filter.name === 'registry-door') as Filter;
  opened(demo, () => <DependentsPart id={id} name={name} />);
  expect(await screen.findByRole('list', { name: 'What rests on registry-door' })).toBeTruthy();
  expect(screen.getByText(/^need own registry/)).toBeTruthy();
});

test('a row by which nothing passes says so, and how far it was looked', async () => {
  opened(demo, () => <DependentsPart id={demo.pools[0]?.id ?? ''} name="a pool" />);
  expect(
    await screen.findByText(/^No expectation, and no need of the first \d+ clusters, is decided here\./),
  ).toBeTruthy();
});
