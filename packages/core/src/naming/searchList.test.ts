import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { namesTried } from './index.js';
import { goesOn } from './searchList.js';

// resolv.conf(5), option ndots: "sets a threshold for the number of dots which must appear in a name … before an initial absolute query will be made."
test.each([
  ['web', 1, ['a.test', 'b.test'], ['web.a.test', 'web.b.test', 'web']],
  ['web.shop', 1, ['a.test'], ['web.shop', 'web.shop.a.test']],
  ['web.shop', 5, ['a.test'], ['web.shop.a.test', 'web.shop']],
  ['web.shop.', 5, ['a.test'], ['web.shop']],
  ['a.b.c.d.e.f', 5, ['a.test'], ['a.b.c.d.e.f', 'a.b.c.d.e.f.a.test']],
])('%p with ndots %p and %p tries %p', (name, ndots, search, tried) => {
  expect(namesTried(name, ndots, search)).toEqual(tried);
});

const canMakeNamespaces = (() => {
  try {
    execFileSync('unshare', ['-n', '-m', 'true'], { stdio: 'ignore' });
    return true;
  } catch {
    return false;
  }
})();

/** What the names hold: an A record, nothing (NODATA), a failure (SERVFAIL); names that are left out do not exist. */
type Holding = Readonly<Record<string, 'A' | 'nothing' | 'fails'>>;

function ours({
  name,
  ndots,
  search,
  answers,
}: {
  name: string;
  ndots: number;
  search: readonly string[];
  answers: Holding;
}): string[] {
  const asked: string[] = [];
  for (const each of namesTried(name, ndots, search)) {
    asked.push(`${each} A`, `${each} AAAA`);
    const holds = answers[each];
    if (holds === 'A' || !goesOn(holds === 'fails' ? 'failure' : 'nothing')) break;
  }
  return asked.sort();
}

if (!canMakeNamespaces)
  console.warn('Not run: the resolver library is not asked, since this machine makes no namespaces.');
(canMakeNamespaces ? test : test.skip)('the operating system’s resolver library sends the same questions', () => {
  const label = fc.constantFrom('a', 'b', 'web');
  const suffixes = fc.subarray(['shop.svc.cluster.test', 'svc.cluster.test', 'cluster.test', 'corp.test']);
  const all = fc
    .sample(
      fc.tuple(
        fc.array(label, { minLength: 1, maxLength: 7 }),
        fc.boolean(),
        fc.integer({ min: 1, max: 6 }),
        suffixes,
        fc.array(fc.constantFrom('A' as const, 'nothing' as const, 'fails' as const, undefined), {
          minLength: 6,
          maxLength: 6,
        }),
      ),
      { seed: 20_261_126, numRuns: 120 },
    )
    .map(([labels, isFull, ndots, search, holding]) => {
      const name = `${labels.join('.')}${isFull ? '.' : ''}`;
      const tried = namesTried(name, ndots, search);
      const answers = Object.fromEntries(
        tried.flatMap((each, i) => (holding[i] === undefined ? [] : [[each, holding[i]]])),
      ) as Holding;
      return { name, ndots, search, answers };
    });
  const folder = mkdtempSync('/var/tmp/wl-stub-');
  try {
    const script = join(__dirname, '../../test/stubResolver.mjs');
    const out = execFileSync('unshare', ['-n', '-m', process.execPath, script, join(folder, 'resolv.conf')], {
      input: JSON.stringify(all),
      timeout: 100_000,
    });
    const theirs = JSON.parse(out.toString()) as string[][];
    // A failure is asked again at other servers, and there is one: each question counts once.
    const told = all.map((each, i) => ({ ...each, sent: [...new Set(theirs[i])].sort() }));
    expect(told).toEqual(all.map((each) => ({ ...each, sent: ours(each) })));
    expect(told.some(({ sent }) => sent.length >= 8)).toBe(true);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});
