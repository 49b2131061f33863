import fc from 'fast-check';
import { crowdedPrefix } from '../../test/arbitraries.js';
import { formatPrefix, parsePrefix } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { expectGood } from '../result.js';
import { LinkRows } from './linkTable.js';

const anyList = fc.array(crowdedPrefix(4), { maxLength: 6 });
const member = (networkId: string, advertised: readonly Prefix[]) => ({ networkId, attachment: undefined, advertised });
const prefix = (text: string) => expectGood(parsePrefix(text));

test('rows that stand beside the others after edits are found as in a table made anew', () => {
  fc.assert(
    fc.property(
      fc.array(anyList, { minLength: 1, maxLength: 12 }),
      fc.array(fc.tuple(fc.nat(11), anyList), { maxLength: 20 }),
      anyList,
      (lists, edits, asked) => {
        let members = lists.map((advertised, at) => member(`n${at}`, advertised));
        let rows = LinkRows.of(members);
        for (const [at, advertised] of edits) {
          members = members.map((each, place) =>
            place === at % members.length ? member(each.networkId, advertised) : each,
          );
          rows = rows.with(members) ?? LinkRows.of(members);
        }
        const fresh = LinkRows.of(members);
        const say = (found: readonly { readonly networkId: string; readonly prefix: Prefix }[]) =>
          found.map(({ networkId, prefix: own }) => `${networkId} ${formatPrefix(own)}`);
        expect(say(rows.all)).toEqual(say(fresh.all));
        for (const each of [...asked, ...lists.flat()]) {
          expect(say(rows.around(each))).toEqual(say(fresh.around(each)));
          expect(say(rows.inside(each)).sort()).toEqual(say(fresh.inside(each)).sort());
        }
      },
    ),
    { seed: 20_261_201 },
  );
});

test('the longest prefix comes first, of equal ones that of the earlier member, whichever was edited', () => {
  const of = (...lists: string[][]) => lists.map((list, at) => member(`n${at}`, list.map(prefix)));
  const around = (rows: LinkRows | undefined) => rows?.around(prefix('10.1.2.3/32')).map(({ networkId }) => networkId);
  const rows = LinkRows.of(of(['10.0.0.0/8'], ['10.1.0.0/16'], ['192.0.2.0/24']));
  expect(around(rows)).toEqual(['n1', 'n0']);
  // The first now says the longer one too, and comes before the second, which said it already.
  expect(around(rows.with(of(['10.0.0.0/8', '10.1.0.0/16'], ['10.1.0.0/16'], ['192.0.2.0/24'])))).toEqual([
    'n0',
    'n1',
    'n0',
  ]);
  expect(around(rows.with(of(['10.0.0.0/8'], [], ['10.1.2.0/24'])))).toEqual(['n2', 'n0']);
  // Other members are no edit of these.
  expect(rows.with(of(['10.0.0.0/8'], ['10.1.0.0/16']))).toBeUndefined();
});
