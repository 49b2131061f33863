import { add, applied, ground, testId } from '../../test/worlds.js';
import { setOperation } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { bySubject } from './bySubject.js';

const looked: string[] = [];
const section = bySubject({
  name: 'names of sites by network',
  reads: ['networks', 'sites'],
  needs: {},
  subjects: ({ networks }) => networks,
  dependsOn: (network, { sites }) => [network, sites[0]],
  look: ({ name }, { sites }) => {
    looked.push(name);
    return [`${name} ${sites[0]?.name ?? ''}`];
  },
});

function follow(last: ReturnType<typeof section.build>, before: Plan, after: Plan) {
  looked.length = 0;
  return section.follow?.({ parts: before, needed: {}, value: last }, after, {});
}

const plan = applied(ground(2), []);
const first = section.build(plan, {});

test('a subject is looked at again when something that it rests on is another object, and no other', () => {
  expect(first.found).toHaveLength(2);
  const renamed = applied(plan, [setOperation('networks', testId('networks', 2), { name: 'other' })]);
  const next = follow(first, plan, renamed);
  expect(looked).toEqual(['other']);
  expect(next?.found).toEqual([first.found[0], expect.stringMatching(/^other /)]);
});

test('what all rest on has all looked at again', () => {
  const moved = applied(plan, [setOperation('sites', testId('sites', 1), { name: 'elsewhere' })]);
  expect(follow(first, plan, moved)?.found).toEqual(first.found.map((text) => text.replace(/ .*/, ' elsewhere')));
  expect(looked).toHaveLength(2);
});

test('while nothing differs the value is the same object, and one that is gone is gone from it', () => {
  expect(follow(first, plan, { ...plan })).toBe(first);
  expect(looked).toEqual([]);
  const more = applied(plan, add('networks', { id: testId('networks', 9), name: 'third' }));
  const with3 = follow(first, plan, more);
  expect(with3?.found).toHaveLength(3);
  expect(with3 && follow(with3, more, plan)?.found).toEqual(first.found);
  expect(looked).toEqual([]);
});

test('what only the answer tells is remembered with it', () => {
  const asked: string[] = [];
  const bySite = bySubject({
    name: 'sites that networks are named after',
    reads: ['networks', 'sites'],
    needs: {},
    subjects: ({ networks }) => networks,
    dependsOn: (network) => [network],
    look: ({ name }, { sites }) => {
      asked.push(name);
      return sites.filter((site) => site.name.endsWith(name.slice(-1)));
    },
    met: (sites, parts) => sites.map(({ id }) => parts.sites.find((site) => site.id === id)),
  });
  const two = applied(plan, add('sites', { ...plan.sites[0], id: testId('sites', 2), name: 'site 2' }));
  const built = bySite.build(two, {});
  asked.length = 0;
  const renamed = applied(two, [setOperation('sites', testId('sites', 2), { name: 'moved 2' })]);
  const next = bySite.follow?.({ parts: two, needed: {}, value: built }, renamed, {});
  expect(asked).toEqual(['n2']);
  expect(next?.found.map(({ name }) => name)).toContain('moved 2');
});
