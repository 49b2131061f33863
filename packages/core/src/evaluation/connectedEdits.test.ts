import fc from 'fast-check';
import { anyEdit, edited } from '../../test/anyEdit.js';
import { anyJoined } from '../../test/anyJoined.js';
import { connected, describeUse, setMatrix } from '../crosscluster/index.js';
import type { Plan } from '../plan/index.js';
import type { Evaluation } from './index.js';
import { evaluate } from './index.js';

/** Every way between two members and every cell, with the words. */
function toldBy(evaluation: Evaluation, { connections }: Plan) {
  const state = evaluation.ask(connected);
  const ways = connections.flatMap((connection) => {
    const members = state.membersOf(connection.id);
    return members.flatMap((from) =>
      members.flatMap((to) => {
        if (from === to) return [];
        return (['pods', 'service'] as const).map((asked) => {
          const pair = state.pair(connection, from, to, asked);
          const { verdict, room, floorMs } = pair;
          return [
            from.memberId,
            to.memberId,
            asked,
            verdict,
            room,
            floorMs,
            state.description(pair),
            state.failureOf(pair),
          ];
        });
      }),
    );
  });
  const { columns, rows } = evaluation.ask(setMatrix);
  const cells = columns.flatMap(({ key, imported, cells: all }) =>
    all.map((cell, at) => {
      const member = state.membersOf(imported.connection.id).find(({ clusterId }) => clusterId === rows[at]?.id);
      return [key, rows[at]?.name, cell, member && describeUse(state, imported, member)];
    }),
  );
  return { ways, cells };
}

test('after random edits, ways of connections and cells of exports are what a plan evaluated from nothing says', () => {
  const seen = { edits: 0, passing: 0, failing: 0 };
  fc.assert(
    fc.property(anyJoined, fc.array(anyEdit, { minLength: 1, maxLength: 5 }), (start, edits) => {
      let plan = start;
      let evaluation = evaluate(plan);
      toldBy(evaluation, plan);
      for (const edit of edits) {
        const next = edited(plan, edit);
        if (next === undefined) continue;
        plan = next.plan;
        evaluation = evaluate(plan, evaluation);
        const told = toldBy(evaluation, plan);
        expect({ what: next.what, ...told }).toEqual({ what: next.what, ...toldBy(evaluate(plan), plan) });
        seen.edits++;
        for (const way of told.ways) seen[way[3] === 'pass' ? 'passing' : 'failing']++;
      }
    }),
    { numRuns: Number(process.env['WL_EDITS'] ?? 250), seed: Number(process.env['WL_SEED'] ?? 31) },
  );
  // A test of worlds in which everything fails would show nothing.
  expect(seen.edits).toBeGreaterThan(300);
  expect(seen.passing).toBeGreaterThan(500);
  expect(seen.failing).toBeGreaterThan(500);
});
