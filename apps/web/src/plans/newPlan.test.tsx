import { demoPlan } from '@wide-lattice/core/demo';
import { readPlanFile, writePlanFile } from '@wide-lattice/core/exchange';
import { kinds } from '@wide-lattice/core/plan';
import { starters } from '@wide-lattice/core/starter';
import type { StarterName } from '@wide-lattice/core/starter';
import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { openingOf, planOf } from './newPlan';
import type { NewPlan } from './newPlan';
import { NewPlanDialog } from './NewPlanDialog';
import { RemovePlanDialog } from './RemovePlanDialog';

const wanted = (more: Partial<NewPlan>): NewPlan => ({
  name: 'Harbour group',
  from: 'starter',
  starter: 'zonal',
  site: 'Quay',
  network: 'front',
  ...more,
});

describe('what a new plan holds', () => {
  test.each(['starter', 'spreadsheet', 'demo', 'empty'] as const)(
    '%s: a plan file of it is read back the same',
    (from) => {
      const plan = planOf(wanted({ from }));
      expect(plan.settings.name).toBe('Harbour group');
      expect(readPlanFile(writePlanFile(plan, 'json'))).toEqual({ ok: true, plan });
    },
  );

  test('a starter has the site and network that were named; a spreadsheet brings its own', () => {
    expect(planOf(wanted({})).sites.map(({ name }) => name)).toEqual(['Quay']);
    expect(planOf(wanted({})).networks.map(({ name }) => name)).toEqual(['front']);
    const sheet = planOf(wanted({ from: 'spreadsheet' }));
    expect([sheet.sites.length, sheet.networks.length, sheet.profiles.length]).toEqual([0, 0, 1]);
    expect(sheet.pools.length).toBeGreaterThan(0);
  });

  test('the demo is the demo but for its name; an empty plan is empty', () => {
    const { settings: _, ...demo } = demoPlan();
    expect(planOf(wanted({ from: 'demo' }))).toMatchObject(demo);
    const empty = planOf(wanted({ from: 'empty' }));
    for (const kind of kinds) expect(empty[kind]).toEqual([]);
  });

  test('it opens where the next thing is to be done', () => {
    expect(openingOf('x', 'spreadsheet')).toBe('/plans/x/demand?dialog=import');
    expect(openingOf('x', 'demo')).toBe('/plans/x/board');
    expect(openingOf('x', 'starter')).toBe('/plans/x/demand');
    expect(openingOf('x', 'empty')).toBe('/plans/x/ground?show=profiles');
  });
});

describe('the dialog', () => {
  function setUp(answer = '') {
    const onStart = jest.fn<Promise<string>, [NewPlan]>().mockResolvedValue(answer);
    const onClose = jest.fn();
    render(<NewPlanDialog onStart={onStart} onClose={onClose} />);
    return { onStart, onClose, user: userEvent.setup() };
  }
  const create = () => screen.getByRole('button', { name: 'Create plan' });

  test('needs a name, and starts what was chosen', async () => {
    const { onStart, user } = setUp();
    expect(create()).toHaveProperty('disabled', true);
    await user.type(screen.getByLabelText('Name of the plan'), '  Harbour group ');
    await user.click(screen.getByRole('radio', { name: /^Plain LAN/ }));
    await user.clear(screen.getByLabelText('First site'));
    await user.type(screen.getByLabelText('First site'), 'Quay');
    await user.click(create());
    await waitFor(() => expect(onStart).toHaveBeenCalled());
    expect(onStart.mock.calls[0]?.[0]).toEqual({
      name: 'Harbour group',
      from: 'starter',
      starter: 'lan',
      site: 'Quay',
      network: 'main',
    });
  });

  test('only what a choice needs is asked', async () => {
    const { user } = setUp();
    for (const { label } of Object.values(starters))
      expect(screen.getByRole('radio', { name: new RegExp(`^${label}`) })).toBeTruthy();
    await user.click(screen.getByRole('radio', { name: /^Spreadsheet/ }));
    expect(screen.queryByLabelText('First site')).toBeNull();
    expect(screen.getByRole('radio', { name: /^Zonal subnets/ })).toBeTruthy();
    await user.click(screen.getByRole('radio', { name: /^Demo copy/ }));
    expect(screen.queryByRole('radio', { name: /^Zonal subnets/ })).toBeNull();
  });

  test('what is refused is said, and the name stays', async () => {
    const { user, onClose } = setUp('The server cannot be reached.');
    await user.type(screen.getByLabelText('Name of the plan'), 'x');
    await user.click(create());
    expect((await screen.findByRole('alert')).textContent).toBe('The server cannot be reached.');
    expect(screen.getByLabelText('Name of the plan')).toHaveProperty('value', 'x');
    expect(onClose).not.toHaveBeenCalled();
  });
});

test('a plan is removed only after it was confirmed, and a file of it is offered first', async () => {
  const user = userEvent.setup();
  const onRemove = jest.fn<Promise<string>, []>().mockResolvedValue('There is no plan with this id.');
  const plan = { id: 'p1', name: 'Old quay', revision: 1234, changedAt: '2026-11-25T10:00:00.000Z' };
  render(<RemovePlanDialog plan={plan} onClose={() => undefined} onRemove={onRemove} />);
  const remove = screen.getByRole('button', { name: 'Remove the plan' });
  expect(screen.getByRole('dialog').textContent).toContain(
    '1,234 revisions and its named versions are kept for 30 days',
  );
  expect(screen.getByRole('link', { name: /Save a plan file first/ }).getAttribute('href')).toBe(
    '/api/plans/p1/export/plan.json',
  );
  await user.click(remove);
  expect(onRemove).toHaveBeenCalledTimes(1);
  expect((await screen.findByRole('alert')).textContent).toContain('There is no plan');
});

test('every starter is offered by its own name', () => {
  const labels = (Object.keys(starters) as StarterName[]).map((name) => starters[name].label);
  expect(new Set(labels).size).toBe(labels.length);
});
