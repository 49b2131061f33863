import { cleanup, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { QueryClientProvider, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { ReactNode } from 'react';
import { MemoryRouter, useNavigate } from 'react-router';
import { newQueryClient } from '../app/queries';
import { PlanContext } from '../plan/PlanContext';
import type { OpenPlan } from '../plan/PlanContext';
import { CellEditor } from './CellEditor';
import type { CellEdit } from './CellEditor';
import { FailureBoundary } from './FailureBoundary';
import { SeverityMark } from './Marks';
import { Modal } from './Modal';
import { Tabs } from './Tabs';

/** What every part of a page stands in: an address, answers, and a plan of which these ask its revision only. */
function Framed({ children }: { readonly children: ReactNode }) {
  return (
    <MemoryRouter>
      <QueryClientProvider client={newQueryClient()}>
        <PlanContext.Provider value={{ revision: 1 } as OpenPlan}>{children}</PlanContext.Provider>
      </QueryClientProvider>
    </MemoryRouter>
  );
}

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

  test('the focus that leaves with the editor stores nothing, whether it was saved or left', async () => {
    const saved = setUp();
    const field = screen.getByRole('textbox');
    await saved.user.clear(field);
    await saved.user.type(field, '7{Enter}');
    await waitFor(() => expect(saved.onDone).toHaveBeenCalled());
    field.blur();
    expect(saved.stored).toEqual(['7']);
    cleanup();
    const left = setUp();
    const other = screen.getByRole('textbox');
    await left.user.type(other, '7{Escape}');
    other.blur();
    expect(left.stored).toEqual([]);
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
  render(<Page />, { wrapper: Framed });
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

describe('a dialog', () => {
  function Page() {
    const [isOpen, setOpen] = useState(false);
    return (
      <main tabIndex={-1}>
        <button type="button" onClick={() => setOpen(true)}>
          Open
        </button>
        {isOpen && (
          <Modal title="Add a thing" description="With a name." onClose={() => setOpen(false)}>
            <label>
              Name <input />
            </label>
            <label>
              Done <input type="checkbox" />
            </label>
          </Modal>
        )}
      </main>
    );
  }
  async function opened() {
    const user = userEvent.setup();
    render(<Page />);
    await user.click(screen.getByRole('button', { name: 'Open' }));
    return user;
  }

  test('begins in its first field, and gives the focus back', async () => {
    const user = await opened();
    await waitFor(() => expect(document.activeElement).toBe(screen.getByRole('textbox', { name: 'Name' })));
    await user.keyboard('{Escape}');
    expect(screen.queryByRole('dialog')).toBeNull();
    await waitFor(() => expect(document.activeElement).toBe(screen.getByRole('button', { name: 'Open' })));
  });

  test('asks before it lets go of what was typed, once, and a tick is nothing typed', async () => {
    const user = await opened();
    await user.click(screen.getByRole('checkbox'));
    await user.type(screen.getByRole('textbox'), 'x');
    await user.keyboard('{Escape}');
    expect(screen.getByRole('alert').textContent).toContain('not saved');
    await user.click(screen.getByRole('button', { name: 'Go on typing' }));
    expect(screen.getByRole('textbox')).toHaveProperty('value', 'x');
    await user.keyboard('{Escape}');
    await user.click(screen.getByRole('button', { name: 'Discard it' }));
    expect(screen.queryByRole('dialog')).toBeNull();
    await user.click(screen.getByRole('button', { name: 'Open' }));
    await user.click(screen.getByRole('checkbox'));
    await user.keyboard('{Escape}');
    expect(screen.queryByRole('dialog')).toBeNull();
  });
});

test('a part that fails says so in its place, the rest goes on, and another address tries again', async () => {
  let isBroken = true;
  function Asking() {
    const { data } = useQuery({
      queryKey: ['x'],
      queryFn: () =>
        isBroken ? Promise.reject(new RangeError('Maximum call stack size exceeded')) : Promise.resolve('there'),
    });
    return <p>{data ?? 'waits'}</p>;
  }
  function Page() {
    const navigate = useNavigate();
    return (
      <>
        <button type="button" onClick={() => void navigate('/?side=b')}>
          Elsewhere
        </button>
        <FailureBoundary>
          <Asking />
        </FailureBoundary>
      </>
    );
  }
  const loud = jest.spyOn(console, 'error').mockImplementation(() => undefined);
  const user = userEvent.setup();
  render(<Page />, { wrapper: Framed });
  const alert = await screen.findByRole('alert');
  expect(alert.textContent).toContain('Something in the plan leads back to itself');
  await user.click(screen.getByRole('button', { name: 'Try again' }));
  await screen.findByRole('alert');
  isBroken = false;
  await user.click(screen.getByRole('button', { name: 'Elsewhere' }));
  await screen.findByText('there');
  loud.mockRestore();
});
