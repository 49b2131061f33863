import { fence, hubWorld, ranges } from '../../test/ways.js';
import { add, applied, cluster, testId } from '../../test/worlds.js';
import { evaluate } from '../evaluation/index.js';
import { setOperation } from '../plan/index.js';
import type { Operation } from '../plan/index.js';
import { expectationStates } from './index.js';

// Nodes of a reach those of b through the firewall alone; c is on no way of theirs, and the filter is its.
const plan = applied(hubWorld({ rules: [{ protocol: 'tcp', ports: ['80-99'] }] }), [
  ...add('clusters', {
    ...cluster('c', { networkId: testId('networks', 1) }),
    id: testId('clusters', 3),
  }),
  ...ranges([3, 'node', '10.1.1.0/24']).map((operation) => ({
    ...operation,
    entity: { ...(operation as { readonly entity: object }).entity, id: testId('allocations', 9) },
  })),
  ...fence(3, { defaultIn: 'deny' }, { protocol: 'tcp', ports: ['80'] }),
  ...add(
    'expectations',
    { name: 'to b', from: 'node of a', to: 'node of b tcp 81', verdict: 'must pass' },
    { name: 'to c', from: 'node of a', to: 'node of c tcp 80', verdict: 'must pass' },
  ),
] as Operation[]);

const before = evaluate(plan);
const [toB, toC] = [testId('expectations', 1), testId('expectations', 2)];
const after = (...operations: Operation[]) => evaluate(applied(plan, operations), before).ask(expectationStates);

test('an expectation whose packets met a list is asked again when its rules change', () => {
  expect(before.ask(expectationStates)).toMatchObject({ [toB]: { state: 'kept' }, [toC]: { state: 'kept' } });
  const closed = after(setOperation('firewallRules', testId('firewallRules', 1), { ports: ['80'] }));
  expect(closed).toMatchObject({ [toB]: { state: 'broken' }, [toC]: { state: 'kept' } });
  const fenced = after(setOperation('filterRules', testId('filterRules', 1), { ports: ['81'] }));
  expect(fenced).toMatchObject({ [toB]: { state: 'kept' }, [toC]: { state: 'broken' } });
});

test('a rule that comes to a list without any is met by those that passed it', () => {
  const open = applied(plan, [{ op: 'remove', kind: 'firewallRules', id: testId('firewallRules', 1) }]);
  const last = evaluate(open, before);
  expect(last.ask(expectationStates)).toMatchObject({ [toB]: { state: 'broken' } });
  const again = evaluate(plan, last).ask(expectationStates);
  expect(again).toMatchObject({ [toB]: { state: 'kept' } });
});

test('what else decides about packets has all of them asked again', () => {
  const unhanded = after(
    setOperation('attachments', testId('attachments', 1), { accepts: 'listed', acceptsFromIds: [] }),
  );
  const fresh = evaluate(
    applied(plan, [setOperation('attachments', testId('attachments', 1), { accepts: 'listed', acceptsFromIds: [] })]),
  ).ask(expectationStates);
  expect(unhanded).toEqual(fresh);
  expect(unhanded).toMatchObject({ [toB]: { state: 'broken' } });
});
