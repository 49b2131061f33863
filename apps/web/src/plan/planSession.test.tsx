import { demoPlan } from '@wide-lattice/core/demo';
import { newId, setOperation } from '@wide-lattice/core/plan';
import type { Operation } from '@wide-lattice/core/plan';
import fc from 'fast-check';
import { FakeServer } from '../../test/fakes';
import { ApiError } from './api';
import type { Change } from './api';
import { clientId } from './identity';
import { PlanSession } from './planSession';

let server: FakeServer;
const worker: { opened: string; loads: number; advanced: (readonly Operation[])[] } = {
  opened: '',
  loads: 0,
  advanced: [],
};

jest.mock('./api', () => ({
  ...jest.requireActual<object>('./api'),
  api: new Proxy({}, { get: (_, name: string) => (server.api as Record<string, unknown>)[name] }),
}));
jest.mock('../worker/coreClient', () => ({
  core: {
    holds: () => undefined,
    opening: () => {
      worker.opened = '';
      return { read: (part: string) => void (worker.opened += part), open: () => Promise.resolve() };
    },
    load: () => Promise.resolve(worker.loads++),
    advance: (operations: readonly Operation[]) => Promise.resolve(worker.advanced.push(operations)),
  },
}));

const demo = demoPlan();
const [a, b] = demo.networks as unknown as [{ id: string }, { id: string }];
const note = (id: string, text: string) => [setOperation('networks', id, { note: text })];
const others = (id: string, text: string, baseRevision: number) =>
  server.store({
    baseRevision,
    label: `their ${text}`,
    author: 'Ines',
    clientId: 'x',
    changeId: newId(),
    operations: note(id, text),
  });

class FakeEvents extends EventTarget {
  static last: FakeEvents | undefined;
  isClosed = false;
  constructor() {
    super();
    FakeEvents.last = this;
  }
  close(): void {
    this.isClosed = true;
  }
  tell(revision: number): void {
    this.dispatchEvent(new MessageEvent('revision', { data: JSON.stringify({ revision }) }));
  }
}

(globalThis as unknown as { EventSource: unknown }).EventSource = FakeEvents;

async function opened(): Promise<PlanSession> {
  server = new FakeServer({ revision: 0, plan: demo });
  worker.loads = 0;
  worker.advanced = [];
  return PlanSession.open('p');
}

const settled = () => new Promise((resolve) => setTimeout(resolve, 5));

test('an edit is stored, followed here and in the worker, and told to who listens', async () => {
  const session = await opened();
  // The worker has read the same revision itself.
  expect(worker.loads).toBe(0);
  let told = 0;
  session.subscribe(() => told++);
  expect(await session.commit('note', note(a.id, 'x'))).toEqual({ kind: 'stored', isMerged: false });
  const { plan, revision, history } = session.snapshot();
  expect(plan).toEqual(server.plan);
  expect([revision, history.length, worker.advanced.length]).toEqual([1, 1, 1]);
  expect(told).toBeGreaterThan(0);
});

test('edits made at once are sent one after the other, each on top of the last', async () => {
  const session = await opened();
  const outcomes = await Promise.all(['1', '2', '3'].map((text) => session.commit(text, note(a.id, text))));
  expect(outcomes.every(({ kind }) => kind === 'stored')).toBe(true);
  expect(server.bases).toEqual([0, 1, 2]);
  expect(session.snapshot().plan.networks[0]?.note).toBe('3');
});

test('an edit that is wrong on its own is refused without asking the server', async () => {
  const session = await opened();
  const outcome = await session.commit('mtu', [setOperation('networks', a.id, { mtu: 3 })]);
  expect(outcome).toMatchObject({ kind: 'refused', problems: [{ field: 'mtu' }] });
  expect(server.changes).toEqual([]);
});

test('what others changed elsewhere is merged and followed', async () => {
  const session = await opened();
  server.meanwhile = () => others(b.id, 'theirs', 0);
  expect(await session.commit('mine', note(a.id, 'mine'))).toEqual({ kind: 'stored', isMerged: true });
  expect(session.snapshot().plan).toEqual(server.plan);
  expect(
    session
      .snapshot()
      .plan.networks.slice(0, 2)
      .map((each) => each.note),
  ).toEqual(['mine', 'theirs']);
});

test('a plan is downloaded once for the page and its worker; an edit and its undo cost a change and one question each', async () => {
  const session = await opened();
  expect(server.asked).toEqual(['plan']);
  expect(JSON.parse(worker.opened)).toEqual({ revision: 0, plan: session.snapshot().plan });
  const stop = session.follow(() => undefined);
  const edit = session.commit('note', note(a.id, 'x'));
  // The server tells of the edit before its answer has been followed.
  await settled();
  FakeEvents.last?.tell(1);
  await edit;
  await session.undo();
  FakeEvents.last?.tell(2);
  await settled();
  expect(server.asked).toEqual(['plan', 'change', 'changes', 'change', 'changes']);
  stop();
});

test('a page that missed more than the server tells at once asks until it has all', async () => {
  const session = await opened();
  const stop = session.follow(() => undefined);
  for (let at = 0; at < 250; at++) others(b.id, String(at), at);
  FakeEvents.last?.tell(250);
  await settled();
  expect(session.snapshot()).toMatchObject({ revision: 250, plan: server.plan });
  expect(server.asked).toEqual(['plan', 'changes', 'changes']);
  stop();
});

describe('an edit that others overtook', () => {
  async function overtaken() {
    const session = await opened();
    server.meanwhile = () => others(a.id, 'theirs', 0);
    const outcome = session.commit('mine', note(a.id, 'mine'));
    await settled();
    return { session, outcome };
  }

  test('stays in the user’s hands with both sides, and nothing of it is stored', async () => {
    const { session } = await overtaken();
    expect(session.snapshot().overtaken).toMatchObject({
      label: 'mine',
      theirs: [{ author: 'Ines' }],
      clashes: [{ field: 'note', theirs: 'theirs', mine: 'mine' }],
      currentRevision: 1,
    });
    expect(server.plan.networks[0]?.note).toBe('theirs');
    expect(session.snapshot().plan.networks[0]?.note).toBe('theirs');
  });

  test('can be sent again on top of theirs', async () => {
    const { session, outcome } = await overtaken();
    void session.insist();
    expect(await outcome).toMatchObject({ kind: 'stored' });
    expect(server.plan.networks[0]?.note).toBe('mine');
    expect(session.snapshot().overtaken).toBeUndefined();
  });

  test('is overtaken once more when a third one comes between, whatever this page has heard of meanwhile', async () => {
    const { session, outcome } = await overtaken();
    others(a.id, 'a third', 1);
    void session.insist();
    await settled();
    expect(session.snapshot().overtaken).toMatchObject({ clashes: [{ began: 'theirs', theirs: 'a third' }] });
    void session.insist();
    expect(await outcome).toMatchObject({ kind: 'stored' });
  });

  test('can be sent in part, the rest being theirs', async () => {
    const session = await opened();
    server.meanwhile = () => others(a.id, 'theirs', 0);
    const outcome = session.commit('mine', [setOperation('networks', a.id, { note: 'mine', mtu: 1400 })]);
    await settled();
    void session.insist([setOperation('networks', a.id, { mtu: 1400 })]);
    expect(await outcome).toMatchObject({ kind: 'stored' });
    expect(server.plan.networks[0]).toMatchObject({ note: 'theirs', mtu: 1400 });
  });

  test('is found also when this page has heard of the other one before the edit is sent', async () => {
    const session = await opened();
    const began = session.snapshot().revision;
    others(a.id, 'theirs', 0);
    await session.commit('elsewhere', note(b.id, 'x'));
    expect(session.snapshot().plan.networks[0]?.note).toBe('theirs');
    void session.commit('mine', note(a.id, 'mine'), began);
    await settled();
    expect(session.snapshot().overtaken).toMatchObject({ clashes: [{ theirs: 'theirs', mine: 'mine' }] });
    expect(server.plan.networks[0]?.note).toBe('theirs');
  });

  test('lets others have their turns while its author chooses', async () => {
    const { session, outcome } = await overtaken();
    expect(await session.commit('elsewhere', note(b.id, 'x'))).toMatchObject({ kind: 'stored' });
    session.yieldToTheirs();
    expect(await outcome).toEqual({ kind: 'overtaken' });
  });

  test('or is let go', async () => {
    const { session, outcome } = await overtaken();
    session.yieldToTheirs();
    expect(await outcome).toEqual({ kind: 'overtaken' });
    expect(session.snapshot().overtaken).toBeUndefined();
    expect(server.plan.networks[0]?.note).toBe('theirs');
  });
});

test('a server that is away keeps the edit out of the plan and says so; the next one goes through', async () => {
  const session = await opened();
  server.failures.push(
    ...Array.from({ length: 3 }, () => new ApiError(0, 'The server cannot be reached.', { isUnknown: true })),
  );
  expect(await session.commit('x', note(a.id, 'x'))).toMatchObject({
    kind: 'failed',
    message: expect.stringContaining('whether this was saved is unknown') as string,
  });
  expect(session.snapshot().plan).toEqual(demo);
  expect(await session.commit('y', note(a.id, 'y'))).toMatchObject({ kind: 'stored' });
});

test('an edit whose answer is lost is asked for again and stored once', async () => {
  const session = await opened();
  server.lostAnswers = 2;
  expect(await session.commit('x', note(a.id, 'x'))).toEqual({ kind: 'stored', isMerged: false });
  expect(server.changes).toHaveLength(1);
  expect(session.snapshot()).toMatchObject({ revision: 1, overtaken: undefined });
});

test('a server that is busy and saved nothing says so itself, and the edit is not sent again', async () => {
  const session = await opened();
  server.failures.push(new ApiError(503, 'Nothing was saved; send it again.', {}));
  expect(await session.commit('x', note(a.id, 'x'))).toEqual({
    kind: 'failed',
    message: 'Nothing was saved; send it again.',
  });
  expect(server.changes).toHaveLength(0);
});

test('what the server refuses is not sent again', async () => {
  const session = await opened();
  server.failures.push(new ApiError(422, 'refused', { problems: [] }));
  expect(await session.commit('x', note(a.id, 'x'))).toMatchObject({ kind: 'refused' });
  expect(server.changes).toHaveLength(0);
});

test('a fault of the page is not swallowed, and the queue goes on', async () => {
  const session = await opened();
  server.failures.push(new TypeError('bug') as unknown as ApiError);
  await expect(session.commit('x', note(a.id, 'x'))).rejects.toThrow('bug');
  expect(await session.commit('y', note(a.id, 'y'))).toMatchObject({ kind: 'stored' });
});

describe('revisions of others', () => {
  async function following() {
    const session = await opened();
    const seen: Change[] = [];
    const stop = session.follow((change) => seen.push(change));
    return { session, seen, stop, events: FakeEvents.last as FakeEvents };
  }

  test('are followed in order, and told unless they are this page’s own', async () => {
    const { session, seen, stop, events } = await following();
    others(a.id, 'one', 0);
    others(b.id, 'two', 1);
    events.tell(2);
    await settled();
    expect(session.snapshot().revision).toBe(2);
    expect(seen.map(({ label }) => label)).toEqual(['their one', 'their two']);
    await session.commit('mine', note(a.id, 'mine'));
    events.tell(3);
    await settled();
    expect(seen).toHaveLength(2);
    stop();
    expect(events.isClosed).toBe(true);
  });

  test('a revision that is known already asks nothing', async () => {
    const { session, events } = await following();
    await session.commit('mine', note(a.id, 'mine'));
    const { advanced } = worker;
    const before = advanced.length;
    events.tell(1);
    await settled();
    expect(worker.advanced).toHaveLength(before);
  });

  test('the connection is shown as lost and found', async () => {
    const { session, events } = await following();
    events.dispatchEvent(new Event('error'));
    expect(session.snapshot().isConnected).toBe(false);
    events.dispatchEvent(new Event('open'));
    expect(session.snapshot().isConnected).toBe(true);
  });

  test('a change that does not fit this page’s plan makes it read the plan anew', async () => {
    const { session, events } = await following();
    others(a.id, 'one', 0);
    const [change] = server.changes as unknown as [Change & { changeId: string }];
    server.changes[0] = { ...change, operations: [{ op: 'remove', kind: 'networks', id: 'nowhere' }] };
    events.tell(1);
    await settled();
    expect(worker.loads).toBe(1);
    expect(session.snapshot().plan).toEqual(server.plan);
  });
});

test('a change is taken back by its inverse, against the revision that it made, and redone', async () => {
  const session = await opened();
  await session.commit('note', note(a.id, 'x'));
  const [change] = session.snapshot().history;
  expect(change).toMatchObject({ clientId: clientId() });
  expect(await session.takeBack(change as Change)).toMatchObject({ kind: 'stored' });
  expect(server.plan).toEqual(demo);
  const [undo] = session.snapshot().history;
  expect(undo).toMatchObject({ label: 'Undo: note', reverts: 1 });
  await session.takeBack(undo as Change);
  expect(session.snapshot().history[0]).toMatchObject({ label: 'Redo: note', reverts: 2 });
  expect(server.plan.networks[0]?.note).toBe('x');
});

test('undo and redo in any order and haste, over any line, take back what was done last and nothing else', async () => {
  const commands = fc.array(
    fc.record({
      what: fc.constantFrom('edit', 'edit', 'undo', 'redo', 'undo', 'redo'),
      wait: fc.integer({ min: 0, max: 4 }),
    }),
    { minLength: 3, maxLength: 14 },
  );
  let undone = 0;
  await fc.assert(
    fc.asyncProperty(commands, fc.array(fc.integer({ min: 0, max: 3 }), { minLength: 5 }), async (all, waits) => {
      const session = await opened();
      session.follow(() => undefined);
      let asked = 0;
      server.slowness = () =>
        new Promise((resolve) => {
          setTimeout(resolve, waits[asked++ % waits.length]);
          FakeEvents.last?.tell(server.changes.length);
        });
      const done: string[] = [];
      const back: string[] = [];
      const answers: Promise<unknown>[] = [];
      for (const [i, { what, wait }] of all.entries()) {
        if (what === 'edit') {
          answers.push(session.commit(`edit ${i}`, note(a.id, `edit ${i}`)));
          done.push(`edit ${i}`);
          back.length = 0;
        } else {
          answers.push(session[what]());
          const [from, to] = what === 'undo' ? [done, back] : [back, done];
          const moved = from.pop();
          if (moved !== undefined) to.push(moved);
          undone += Number(moved !== undefined);
        }
        if (wait > 1) await new Promise((resolve) => setTimeout(resolve, wait));
      }
      await Promise.all(answers);
      expect(server.plan.networks[0]?.note).toBe(done.at(-1) ?? demo.networks[0]?.note);
      expect(session.snapshot().plan).toEqual(server.plan);
      const labels = server.changes.map(({ label }) => label);
      expect(labels.filter((label) => /do: (Un|Re)do:/.test(label))).toEqual([]);
      // Undo is never dead: it goes back to the beginning.
      for (let left = done.length; left > 0; left--)
        expect(await session.undo()).toMatchObject({ label: done[left - 1], outcome: { kind: 'stored' } });
      expect(await session.undo()).toBeUndefined();
      expect(server.plan).toEqual(demo);
    }),
    { numRuns: 30 },
  );
  expect(undone).toBeGreaterThan(30);
}, 300_000);

test('a history that another order left behind does not stop undo, and no row of redos grows in it', async () => {
  const session = await opened();
  for (const text of ['1', '2', '3']) await session.commit(text, note(text === '2' ? b.id : a.id, text));
  const change = (revision: number) => session.snapshot().history.find((each) => each.revision === revision) as Change;
  await session.takeBack(change(3));
  await session.takeBack(change(4));
  // As a page that heard of the redo too late did: another change than the last is taken back.
  await session.takeBack(change(2));
  await session.takeBack(change(5));
  await session.takeBack(change(7));
  expect(session.snapshot().history.map(({ label }) => label)).toEqual([
    'Redo: 3',
    'Undo: 3',
    'Undo: 2',
    'Redo: 3',
    'Undo: 3',
    '3',
    '2',
    '1',
  ]);
  expect(await session.undo()).toMatchObject({ label: '3', outcome: { kind: 'stored' } });
  expect(await session.undo()).toMatchObject({ label: '1', outcome: { kind: 'stored' } });
  expect(await session.undo()).toBeUndefined();
  expect(server.plan).toEqual(demo);
});
