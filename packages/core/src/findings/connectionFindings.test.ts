import { joined, served } from '../../test/connections.js';
import { fence } from '../../test/ways.js';
import { add, applied, testId } from '../../test/worlds.js';
import { evaluate } from '../evaluation/index.js';
import { setOperation } from '../plan/index.js';
import type { Operation } from '../plan/index.js';
import { connectionFindings, exportFindings } from './connectionFindings.js';

// c2 lets anything in by its one rule; the other filter is attached to nothing.
const plan = joined({
  members: [
    { gateways: 2, dials: 'dials' },
    { gateways: 2, dials: 'is dialled' },
  ],
  exports: [{ namespace: 'shop', name: 'web' }],
  more: [
    ...fence(2, { defaultIn: 'deny', defaultOut: 'allow' }, { protocol: 'any' }),
    ...add('filters', { id: testId('filters', 2), name: 'unattached' }),
    ...add('filterRules', {
      id: testId('filterRules', 9),
      filterId: testId('filters', 2),
      direction: 'in',
      position: 10,
    }),
    ...served(1, 'web'),
  ],
});
const before = evaluate(plan);
const found = before.ask(connectionFindings);
const after = (...operations: Operation[]) => evaluate(applied(plan, operations), before);
const codes = (of: typeof found) => of.map(({ code }) => code);

test('a connection is looked at again when rules that its tunnels met are others', () => {
  expect(codes(found)).not.toContain('connection.closed');
  const closed = after(setOperation('filterRules', testId('filterRules', 1), { protocol: 'tcp', ports: ['1'] }));
  expect(codes(closed.ask(connectionFindings))).toContain('connection.closed');
  const opened = evaluate(plan, closed);
  expect(opened.ask(connectionFindings)).toEqual(found);
});

test('it is not looked at again for rules that nothing of it met, nor for demand or services', () => {
  const others = {
    rule: setOperation('filterRules', testId('filterRules', 9), { protocol: 'tcp', ports: ['1'] }),
    demand: setOperation('clusters', testId('clusters', 1), { nodesHorizon: 40 }),
    service: setOperation('services', testId('services', 1), { ports: ['web tcp 81 to http'] }),
  };
  const same = Object.entries(others).filter(([, operation]) => {
    const last = evaluate(plan);
    const told = last.ask(connectionFindings);
    return evaluate(applied(plan, [operation]), last).ask(connectionFindings) === told;
  });
  expect(same.map(([what]) => what)).toEqual(['rule', 'demand', 'service']);
});

test('exports are looked at again when the services of a member are others', () => {
  const of = (evaluation: typeof before) => codes(evaluation.ask(exportFindings).found);
  expect(of(before)).toEqual([]);
  expect(of(after(setOperation('services', testId('services', 1), { name: 'other' })))).toEqual(['export.no-service']);
  expect(
    after(setOperation('filterRules', testId('filterRules', 1), { ports: ['1'], protocol: 'tcp' })).ask(exportFindings)
      .found,
  ).toBe(before.ask(exportFindings).found);
});

test('of a planned connection it is said what it would bring, after edits too', () => {
  const planned = applied(plan, [setOperation('connections', testId('connections', 1), { isPlanned: true })]);
  const first = evaluate(planned);
  first.ask(connectionFindings);
  const closing = [setOperation('filterRules', testId('filterRules', 1), { protocol: 'tcp', ports: ['1'] })];
  const closed = evaluate(applied(planned, closing), first).ask(connectionFindings);
  expect(closed.filter(({ code }) => code === 'connection.closed').map(({ severity }) => severity)).toEqual([
    'warning',
  ]);
});
