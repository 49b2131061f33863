/** @jest-environment node */
import { demoPlan } from '@wide-lattice/core/demo';
import { expose, releaseProxy } from 'comlink';
import { CoreHandle, isStopped } from './coreHandle';
import type { WorkerLike } from './coreHandle';
import { Parts } from './parts';
import { Turns } from './turns';
import type { Tell } from './turns';

/** Workers as a page makes them, one after the other, each in this thread behind a message port. */
function handle() {
  const made: {
    readonly fail: (why: string) => void;
    isEnded: boolean;
    readonly loaded: unknown[];
    readonly asked: string[];
    steps: number;
  }[] = [];
  const channels: MessageChannel[] = [];
  const listening: { [releaseProxy]: () => void }[] = [];
  const core = new CoreHandle((): WorkerLike => {
    const channel = new MessageChannel();
    channels.push(channel);
    let tell: (why: string) => void = () => undefined;
    const worker = {
      fail: (why: string) => tell(why),
      isEnded: false,
      loaded: [] as unknown[],
      asked: [] as string[],
      steps: 0,
    };
    const turns = new Turns();
    const parts = new Parts();
    made.push(worker);
    const answers: Readonly<Record<string, () => unknown>> = {
      good: () => worker.loaded.length,
      throws: () => {
        throw new Error('no such row');
      },
      deep: function deep(): unknown {
        return deep();
      },
      never: () => new Promise(() => undefined),
      steps: function* steps() {
        for (let done = 0; done < 400; done++) {
          const until = performance.now() + 5;
          while (performance.now() < until);
          worker.steps = done + 1;
          yield { what: 'four hundred steps', done, of: 400 };
        }
        return 'all';
      },
      rows: () => ({ title: 'many', list: { few: [1, 2], many: Array.from({ length: 1500 }, (_, n) => ({ n })) } }),
      later: () => new Promise((resolve) => setTimeout(() => resolve('late'), 30)),
    };
    expose(
      {
        listen: (tell: Tell & { [releaseProxy]: () => void }) => {
          listening.push(tell);
          turns.listen(tell);
        },
        stop: (id: number) => turns.stop(id),
        part: (id: number, from: number) => {
          worker.asked.push('part');
          return parts.part(id, from);
        },
        ask: async (name: string, _: unknown, _isMade: boolean, id: number) => {
          worker.asked.push(name);
          return parts.sent(id, await turns.run(id, answers[name]?.()));
        },
        load: (plan: unknown) => void worker.loaded.push(plan),
        open: () => 3,
      },
      channel.port2,
    );
    channel.port2.start();
    channel.port1.start();
    return {
      endpoint: channel.port1,
      terminate: () => {
        worker.isEnded = true;
        channel.port2.close();
      },
      onFailure: (listener) => (tell = listener),
    };
  });
  // The names are those of the answers above.
  const ask = (name: string, signal?: AbortSignal): Promise<unknown> =>
    core.askIn({ isMade: false, ...(signal === undefined ? {} : { signal }) }, name as never);
  const close = () => {
    listening.forEach((tell) => tell[releaseProxy]());
    channels.forEach(({ port1 }) => port1.close());
  };
  return { core, ask, made, close };
}

test('an answer is an answer, and what is thrown comes with its words', async () => {
  const { core, ask, close } = handle();
  expect(await ask('good')).toBe(0);
  await expect(ask('throws')).rejects.toThrow('no such row');
  await expect(ask('deep')).rejects.toThrow(/call stack/);
  expect(core.longest()).toBeUndefined();
  close();
});

test('what does not end is seen to wait, and ends in words when it is stopped; the next worker holds the plan', async () => {
  const { core, ask, made, close } = handle();
  const plan = demoPlan();
  core.holds(() => plan);
  const began = Date.now();
  const waiting = [ask('never'), ask('never')];
  expect(core.longest()?.since).toBeGreaterThanOrEqual(began);
  expect(core.longest()?.progress).toBeUndefined();
  core.longest()?.stop();
  for (const each of waiting) await expect(each).rejects.toThrow('stopped');
  expect(core.longest()).toBeUndefined();
  expect(made[0]?.isEnded).toBe(true);
  expect(await ask('good')).toBe(1);
  expect(made).toHaveLength(2);
  expect(made[1]?.loaded).toEqual([plan]);
  close();
});

test('a worker that fails as a whole ends every request in words, and the next one begins anew', async () => {
  const { ask, made, close } = handle();
  const waiting = ask('never');
  made[0]?.fail('out of memory');
  await expect(waiting).rejects.toThrow('The computation broke off: out of memory');
  expect(await ask('good')).toBe(0);
  // Word of a worker that is gone already ends nothing.
  made[0]?.fail('late');
  expect(await ask('good')).toBe(0);
  close();
});

test('what is given up before it has begun is never computed; what has begun ends, and the next comes after it', async () => {
  const { core, ask, made, close } = handle();
  const page = new AbortController();
  const begun = ask('later', page.signal);
  const left = ask('throws', page.signal);
  const next = ask('good');
  page.abort(new Error('left'));
  await expect(left).rejects.toThrow('left');
  expect(await begun).toBe('late');
  expect(await next).toBe(0);
  expect(made[0]?.asked).toEqual(['later', 'good']);
  expect(core.longest()).toBeUndefined();
  close();
});

test('a request that fails, and one that is given up at once, let the next one through', async () => {
  const { ask, made, close } = handle();
  const [failing, next] = [ask('throws'), ask('good')];
  await expect(failing).rejects.toThrow('no such row');
  expect(await next).toBe(0);
  const gone = new AbortController();
  gone.abort(new Error('left'));
  await expect(ask('good', gone.signal)).rejects.toThrow('left');
  expect(made[0]?.asked).toEqual(['throws', 'good']);
  close();
});

/** Comes back when a computation has said how far it is. */
async function untilTold(core: CoreHandle): Promise<void> {
  while (core.longest()?.progress === undefined) await new Promise((resolve) => setTimeout(resolve, 5));
}

test('what comes in steps says how far it is, and others are answered before it ends', async () => {
  const { core, ask, made, close } = handle();
  const ended: string[] = [];
  const long = ask('steps').then((answer) => ended.push(String(answer)));
  const short = ask('good').then(() => ended.push('good'));
  await untilTold(core);
  expect(core.longest()?.progress).toMatchObject({ what: 'four hundred steps', of: 400 });
  await Promise.all([long, short]);
  expect(ended).toEqual(['good', 'all']);
  expect(made).toHaveLength(1);
  expect(core.longest()).toBeUndefined();
  close();
});

test('what comes in steps is stopped by itself: the worker lives on, and others lose nothing', async () => {
  const { core, ask, made, close } = handle();
  const long = ask('steps');
  await untilTold(core);
  const next = ask('later');
  core.longest()?.stop();
  const why: unknown = await long.catch((error: unknown) => error);
  expect(why instanceof Error && isStopped(why)).toBe(true);
  expect(await next).toBe('late');
  const steps = made[0]?.steps ?? 0;
  await new Promise((resolve) => setTimeout(resolve, 60));
  expect(made[0]).toMatchObject({ isEnded: false, steps });
  expect(steps).toBeLessThan(400);
  close();
});

test('what was asked for a page that was left ends at its next step', async () => {
  const { core, ask, made, close } = handle();
  const page = new AbortController();
  const long = ask('steps', page.signal);
  await untilTold(core);
  page.abort(new Error('left'));
  await expect(long).rejects.toThrow('left');
  expect(await ask('good')).toBe(0);
  expect(made[0]?.steps).toBeLessThan(400);
  close();
});

test('an answer of many rows comes in parts, others being answered between them, and is whole', async () => {
  const { ask, made, close } = handle();
  const [many, good] = [ask('rows'), ask('good')];
  expect(await many).toEqual({
    title: 'many',
    list: { few: [1, 2], many: Array.from({ length: 1500 }, (_, n) => ({ n })) },
  });
  expect(await good).toBe(0);
  expect(made[0]?.asked).toEqual(['rows', 'good', 'part', 'part', 'part', 'part']);
  close();
});

test('an answer of many rows that was given up is dropped', async () => {
  const { ask, made, close } = handle();
  const page = new AbortController();
  const many = ask('rows', page.signal);
  await ask('good');
  page.abort(new Error('left'));
  await expect(many).rejects.toThrow('left');
  expect(await ask('good')).toBe(0);
  expect(made[0]?.asked.filter((each) => each === 'part').length).toBeLessThan(4);
  close();
});
