import sequencer from '@jest/test-sequencer';

// What takes longest, by where it stands: begun last, it would run alone at the end. Without a record of earlier runs, as in a
// fresh checkout, the order is by size otherwise.
const longest = [
  'scripts/restore',
  'scripts/lifecycle',
  'db/landed',
  'slices/longSession',
  'db/migrations',
  'prove/proveJoins',
  'plans/kinds',
  'prove/prove.test',
  'evaluation/evaluation',
  'plans/contention',
  'plans/changes',
  'http/fuzz',
];

const placeOf = ({ path }) => {
  const place = longest.findIndex((part) => path.includes(part));
  return place < 0 ? longest.length : place;
};

/** Jest's own order, with the longest in front. The package arrives as its class or as a module around it, by how Jest was started. */
export default class LongestFirst extends (sequencer.default ?? sequencer) {
  sort(tests) {
    return super.sort(tests).sort((a, b) => placeOf(a) - placeOf(b));
  }
}
