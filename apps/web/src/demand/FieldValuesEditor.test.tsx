import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { demoPlan } from '@wide-lattice/core/demo';
import type { Template } from '@wide-lattice/core/plan';
import { PlanContext } from '../plan/PlanContext';
import type { OpenPlan } from '../plan/PlanContext';
import { FieldValuesEditor } from './FieldValuesEditor';

const plan = demoPlan();
const template = plan.templates.find(({ name }) => name === 'ticket kiosk') as Template;

function setUp(sets: readonly string[] = template.sets) {
  const onSets = jest.fn<unknown, [readonly string[]]>();
  render(
    // Of the open plan the editor asks only the plan itself.
    <PlanContext.Provider value={{ plan, revision: 1 } as OpenPlan}>
      <FieldValuesEditor template={template} sets={sets} onSets={onSets} />
    </PlanContext.Provider>,
  );
  return { onSets, user: userEvent.setup() };
}

test('what a template sets itself is counted, and what it follows is said beside', () => {
  setUp();
  expect(screen.getByRole('heading', { name: 'Sets 4 fields' })).toBeTruthy();
  expect(screen.getByText(/^Follows pier site: Pod network overlay, .*Pods per node 30/)).toBeTruthy();
});

test('a field that is changed stays in its place among the others', async () => {
  const { onSets, user } = setUp(['nodesNow=3', 'services=40']);
  const field = screen.getByLabelText('Nodes now');
  await user.clear(field);
  await user.type(field, '5');
  expect(onSets.mock.lastCall).toEqual([['nodesNow=5', 'services=40']]);
});

test('a value that its field refuses is not handed on, and the reason is said', async () => {
  const { onSets, user } = setUp(['surgePercent=20']);
  const field = screen.getByLabelText('Surge');
  await user.type(field, '00000');
  expect(onSets.mock.calls.flat(2).join(' ')).not.toContain('2000000');
  expect((field as HTMLInputElement).value).toBe('2000000');
  expect(screen.getByText('Surge: 2,000,000 is outside 0 to 100 %. Write a number from 0 to 100.')).toBeTruthy();
});

test('another field begins with the value that it follows, and one can be left to the template below again', async () => {
  const { onSets, user } = setUp(['nodesNow=3']);
  await user.selectOptions(screen.getByLabelText('Set another field'), 'podsPerNode');
  expect(onSets.mock.lastCall).toEqual([['nodesNow=3', 'podsPerNode=30']]);
  await user.click(screen.getByRole('button', { name: 'Do not set Nodes now' }));
  expect(onSets.mock.lastCall).toEqual([[]]);
});
