import { screen, within } from '@testing-library/react';
import { demoPlan } from '@wide-lattice/core/demo';
import type { Cluster } from '@wide-lattice/core/plan';
import { opened } from '../../test/openPlan';
import { ReservationsPart } from './ReservationsPart';

jest.mock('../worker/coreClient', () => jest.requireActual<object>('../../test/openPlan'));

const demo = demoPlan();
const cluster = demo.clusters.find(({ name }) => name === 'harbour-ops') as Cluster;

const setUp = () =>
  opened(demo, ({ reservations }) => (
    <ReservationsPart
      cluster={cluster}
      reservations={reservations.filter(({ clusterId }) => clusterId === cluster.id)}
    />
  ));

test('says where the addresses would be, keeps them there, and gives them up again', async () => {
  const { user, plan, changes } = setUp();
  await user.type(screen.getByLabelText('Kept for'), 'ingress address');
  const many = screen.getByLabelText('How many');
  await user.clear(many);
  await user.type(many, '3');
  const place = await screen.findByText(/^free from/);
  const first = /free from ([\d.]+) in/.exec(place.textContent)?.[1] ?? '';
  await user.click(screen.getByRole('button', { name: 'Keep them' }));
  const row = (await screen.findByText('ingress address')).closest('tr') as HTMLElement;
  expect(row.textContent).toContain(`${first}3 consecutive`);
  expect(plan().reservations.at(-1)).toMatchObject({ name: 'ingress address', first, count: 3, clusterId: cluster.id });
  await user.click(within(row).getByRole('button', { name: 'Give up ingress address' }));
  expect(changes.map(({ label }) => label)).toEqual([
    'Keep 3 addresses for ingress address',
    'Give up ingress address',
  ]);
  expect(plan().reservations).toEqual(demo.reservations);
});

test('a number out of range is refused in words, and nothing can be kept', async () => {
  const { user } = setUp();
  await user.type(screen.getByLabelText('Kept for'), 'too many');
  const many = screen.getByLabelText('How many');
  await user.clear(many);
  await user.type(many, '300');
  expect(screen.getByText('Write a whole number from 1 to 256.')).toBeTruthy();
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Keep them' }).disabled).toBe(true);
});

test('more than the subnets have free is told with the longest stretch there is', async () => {
  const { user } = setUp();
  await user.type(screen.getByLabelText('Kept for'), 'all of it');
  const many = screen.getByLabelText('How many');
  await user.clear(many);
  await user.type(many, '200');
  // A /26 has 64 addresses.
  expect(
    await screen.findByText(/^No 200 consecutive addresses are free; the longest free run has \d+\./),
  ).toBeTruthy();
});
