import type { DataSource } from 'typeorm';
import { RevisionFeed } from './revisionFeed.js';

/** A database of which only the revisions are asked. */
class Revisions {
  readonly at = new Map<string, number>();
  asked = 0;
  isAway = false;
  readonly source = {
    manager: {
      find: () => {
        this.asked++;
        if (this.isAway) return Promise.reject(new Error('the database is away'));
        return Promise.resolve([...this.at].map(([id, revision]) => ({ id, revision })));
      },
    },
  } as unknown as DataSource;
}

let database: Revisions;
let feed: RevisionFeed;

beforeEach(() => {
  jest.useFakeTimers();
  database = new Revisions();
  feed = new RevisionFeed(database.source);
});
afterEach(() => {
  feed.onModuleDestroy();
  jest.useRealTimers();
});

function listen(planId: string) {
  const seen: number[] = [];
  let isDone = false;
  const subscription = feed
    .watch(planId)
    .subscribe({ next: (revision) => seen.push(revision), complete: () => (isDone = true) });
  return { seen, stop: () => subscription.unsubscribe(), isDone: () => isDone };
}

test('a listener hears the present revision at once and every later one once', async () => {
  database.at.set('a', 4);
  const { seen } = listen('a');
  await jest.advanceTimersByTimeAsync(0);
  expect(seen).toEqual([4]);
  feed.announce('a', 5);
  feed.announce('a', 5);
  expect(seen).toEqual([4, 5]);
  await jest.advanceTimersByTimeAsync(5000);
  expect(seen).toEqual([4, 5]);
});

test('what another server process stored is heard by the poll', async () => {
  database.at.set('a', 1);
  const { seen } = listen('a');
  await jest.advanceTimersByTimeAsync(0);
  database.at.set('a', 3);
  await jest.advanceTimersByTimeAsync(2000);
  expect(seen).toEqual([1, 3]);
});

test('an older revision never follows a newer one', async () => {
  database.at.set('a', 8);
  const { seen } = listen('a');
  await jest.advanceTimersByTimeAsync(0);
  feed.announce('a', 9);
  feed.announce('a', 7);
  await jest.advanceTimersByTimeAsync(2000);
  expect(seen).toEqual([8, 9]);
});

test('who comes later hears where the plan is now', async () => {
  database.at.set('a', 2);
  const first = listen('a');
  await jest.advanceTimersByTimeAsync(0);
  const second = listen('a');
  expect(second.seen).toEqual([2]);
  feed.announce('a', 3);
  expect([first.seen, second.seen]).toEqual([
    [2, 3],
    [2, 3],
  ]);
});

test('plans do not hear of one another', async () => {
  database.at.set('a', 1).set('b', 1);
  const a = listen('a');
  const b = listen('b');
  await jest.advanceTimersByTimeAsync(0);
  feed.announce('b', 2);
  expect(a.seen).toEqual([1]);
  expect(b.seen).toEqual([1, 2]);
});

test('a database that is away for a moment ends nothing', async () => {
  database.at.set('a', 1);
  const { seen, isDone } = listen('a');
  await jest.advanceTimersByTimeAsync(0);
  database.isAway = true;
  await jest.advanceTimersByTimeAsync(3000);
  database.isAway = false;
  database.at.set('a', 2);
  await jest.advanceTimersByTimeAsync(3000);
  expect(seen).toEqual([1, 2]);
  expect(isDone()).toBe(false);
});

test('when the last listener goes, nobody asks the database any more', async () => {
  const first = listen('a');
  const second = listen('a');
  await jest.advanceTimersByTimeAsync(0);
  first.stop();
  const before = database.asked;
  await jest.advanceTimersByTimeAsync(3000);
  expect(database.asked).toBeGreaterThan(before);
  second.stop();
  const after = database.asked;
  await jest.advanceTimersByTimeAsync(10_000);
  expect(database.asked).toBe(after);
});

test('when the server stops, open streams end', () => {
  const { isDone } = listen('a');
  feed.onModuleDestroy();
  expect(isDone()).toBe(true);
});
