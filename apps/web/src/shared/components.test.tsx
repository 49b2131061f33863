import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { PlanContext } from '../plan/PlanContext';
import type { OpenPlan } from '../plan/PlanContext';
import { CellEditor } from './CellEditor';
import type { CellEdit } from './CellEditor';
import { SeverityMark } from './Marks';
import { Tabs } from './Tabs';

const edit: CellEdit = {
  text: '12',
  title: 'Nodes now of one',
  change: () => ({ ok: true, value: { op: 'remove', kind: 'networks', id: '' } }),
};

describe('a cell that is edited', () => {
  function setUp(more: Partial<CellEdit> = {}, answer = '', typed?: string) {
    const stored: string[] = [];
    const onDone = jest.fn();
    const froms: number[] = [];
    const at = (revision: number, now: Partial<CellEdit> = {}) => (
      // Of the open plan an editor asks only its revision.
      <PlanContext.Provider value={{ revision } as OpenPlan}>
        <CellEditor
          edit={{ ...edit, ...more, ...now }}
          label="Nodes now"
          typed={typed}
          onStore={(text, from) => {
            stored.push(text);
            froms.push(from);
            return Promise.resolve(answer);
          }}
          onDone={onDone}
        />
      </PlanContext.Provider>
    );
    const { rerender } = render(at(3));
    const goOn = (revision: number, now: Partial<CellEdit>) => rerender(at(revision, now));
    return { stored, froms, onDone, goOn, user: userEvent.setup() };
  }

  test('begins in its text, stores by Enter and is done', async () => {
    const { stored, onDone, user } = setUp();
    const field = screen.getByRole('textbox', { name: 'Nodes now' });
    expect(document.activeElement).toBe(field);
    await user.clear(field);
    await user.type(field, '15{Enter}');
    await waitFor(() => expect(onDone).toHaveBeenCalled());
    expect(stored).toEqual(['15']);
  });

  test('begins with the key that opened it', () => {
    setUp({}, '', '7');
    expect(screen.getByRole('textbox')).toHaveProperty('value', '7');
  });

  test('what is refused stays in the field with the reason, and Escape leaves it', async () => {
    const { onDone, user } = setUp({}, 'Nodes now: -3 is outside 0 to 20,000 nodes.');
    const field = screen.getByRole('textbox');
    await user.clear(field);
    await user.type(field, '-3{Enter}');
    const alert = await screen.findByRole('alert');
    expect(alert.textContent).toContain('outside 0 to 20,000');
    expect(field).toHaveProperty('value', '-3');
    expect(field.getAttribute('aria-invalid')).toBe('true');
    expect(onDone).not.toHaveBeenCalled();
    await user.type(field, '{Escape}');
    expect(onDone).toHaveBeenCalled();
  });

  test('a text that stays as it was is not stored', async () => {
    const { stored, onDone, user } = setUp();
    await user.type(screen.getByRole('textbox'), '{Enter}');
    expect(onDone).toHaveBeenCalled();
    expect(stored).toEqual([]);
  });

  test('a text that stays as it was found is not stored over what somebody else set meanwhile', async () => {
    const { stored, onDone, goOn, user } = setUp();
    goOn(4, { text: '50' });
    await user.type(screen.getByRole('textbox'), '{Enter}');
    expect(onDone).toHaveBeenCalled();
    expect(stored).toEqual([]);
  });

  test('what is typed is sent with the revision that it began from, however far the plan has gone on', async () => {
    const { stored, froms, goOn, user } = setUp();
    goOn(4, { text: '50' });
    await user.type(screen.getByRole('textbox'), '7{Enter}');
    await waitFor(() => expect(stored).toHaveLength(1));
    expect(froms).toEqual([3]);
  });

  test('one of a few values is chosen, and stored at once', async () => {
    const options = ['overlay', 'routed'].map((value) => ({ value, label: value }));
    const { stored, user } = setUp({ text: 'overlay', options });
    await user.selectOptions(screen.getByRole('combobox', { name: 'Nodes now' }), 'routed');
    await waitFor(() => expect(stored).toEqual(['routed']));
  });
});

test('tabs are tabs: the arrow keys go round, and what is shown belongs to the one that is chosen', async () => {
  function Page() {
    const [chosen, choose] = useState<'a' | 'b' | 'c'>('a');
    const tabs = (['a', 'b', 'c'] as const).map((id) => ({ id, label: `Sheet ${id}`, count: 1200 }));
    return (
      <Tabs label="Which sheet" tabs={tabs} chosen={chosen} onChoose={choose}>
        <p>shows {chosen}</p>
      </Tabs>
    );
  }
  const user = userEvent.setup();
  render(<Page />);
  expect(screen.getByRole('tablist', { name: 'Which sheet' })).toBeTruthy();
  const [first] = screen.getAllByRole('tab');
  expect(first?.textContent).toContain('1,200');
  await user.click(first as HTMLElement);
  await user.keyboard('{ArrowRight}');
  expect(screen.getByRole('tabpanel').textContent).toBe('shows b');
  await user.keyboard('{ArrowLeft}{ArrowLeft}');
  expect(screen.getByRole('tab', { name: /Sheet c/ }).getAttribute('aria-selected')).toBe('true');
  expect(screen.getByRole('tabpanel', { name: /Sheet c/ }).textContent).toBe('shows c');
});

test('a severity is said in words, not by colour alone', () => {
  render(<SeverityMark severity="error" count={3} />);
  expect(screen.getByText('3 errors')).toBeTruthy();
});
