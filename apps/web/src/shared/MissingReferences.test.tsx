import { starterPlan } from '@wide-lattice/core/starter';
import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { MissingReferences } from './MissingReferences';

const { profiles } = starterPlan('p', 'lan', {});
const site = (name: string) => ({ kind: 'sites' as const, name, rows: 1, profileId: profiles[0]?.id });
const network = (name: string) => ({ kind: 'networks' as const, name, rows: 1 });

function setUp(missing: Parameters<typeof MissingReferences>[0]['missing'], known = profiles) {
  const onMake = jest.fn();
  const onProfile = jest.fn();
  const { container } = render(
    <MissingReferences
      missing={missing}
      isMaking={false}
      onMake={onMake}
      profiles={known}
      profileOf={{}}
      onProfile={onProfile}
    />,
  );
  return { container, onMake, onProfile, user: userEvent.setup() };
}

test('nothing is shown when nothing is missing', () => {
  expect(setUp([]).container.textContent).toBe('');
});

test('what is missing is named, sites with the profile they will have', async () => {
  const { onMake, onProfile, user } = setUp([site('Quay'), network('front'), network('back')]);
  const box = screen.getByRole('checkbox', { name: /1 site \(Quay\) and 2 networks \(front, back\)/ });
  const profile = screen.getByRole('combobox', { name: 'Provider profile of Quay' });
  expect(profile).toHaveProperty('value', profiles[0]?.id);
  await user.selectOptions(profile, profiles[0]?.id ?? '');
  expect(onProfile).toHaveBeenCalledWith('Quay', profiles[0]?.id);
  await user.click(box);
  expect(onMake).toHaveBeenCalledWith(true);
});

test('networks need no profile; sites have usual ones to choose where the plan has none', () => {
  setUp([network('front')], []);
  expect(screen.queryByRole('combobox')).toBeNull();
  setUp([site('Quay')], []);
  const options = [...screen.getByRole('combobox').querySelectorAll('option')].map(({ textContent }) => textContent);
  expect(options).toEqual(['Plain LAN, new', 'Zonal subnets, new', 'Regional subnets, new']);
});

test('of many, the first dozen are named', () => {
  setUp(Array.from({ length: 15 }, (_, i) => network(`n${i}`)));
  expect(screen.getByRole('checkbox', { name: /15 networks \(n0, .*n11 and others\)/ })).toBeTruthy();
});
