import { HttpException } from '@nestjs/common';
import { Gate } from './gate.js';

test('as many as may are inside, as many as may wait, and whoever comes then is told when to come again', async () => {
  const gate = new Gate(2, 1);
  const leave: (() => void)[] = [];
  const inside: string[] = [];
  const enter = (name: string) =>
    gate.run(async () => {
      inside.push(name);
      await new Promise<void>((resolve) => leave.push(resolve));
      return name;
    });
  const [a, b, c] = [enter('a'), enter('b'), enter('c')];
  const refused: unknown = await enter('d').catch((error: unknown) => error);
  expect(refused).toBeInstanceOf(HttpException);
  expect((refused as HttpException).getStatus()).toBe(503);
  expect((refused as HttpException).getResponse()).toMatchObject({ retryAfter: 5 });
  expect(inside).toEqual(['a', 'b']);
  leave[0]?.();
  expect(await a).toBe('a');
  await Promise.resolve();
  expect(inside).toEqual(['a', 'b', 'c']);
  leave.slice(1).forEach((each) => each());
  expect(await Promise.all([b, c])).toEqual(['b', 'c']);
});

test('one that fails leaves its place to the next', async () => {
  const gate = new Gate(1, 1);
  const first = gate.run(() => Promise.reject(new Error('no')));
  const second = gate.run(() => Promise.resolve('yes'));
  await expect(first).rejects.toThrow('no');
  expect(await second).toBe('yes');
});
