import { screen, within } from '@testing-library/react';
import { demoPlan } from '@wide-lattice/core/demo';
import { evaluate } from '@wide-lattice/core/evaluation';
import type { DescribedFinding } from '@wide-lattice/core/findings';
import { opened } from '../../test/openPlan';
import { FindingItem } from './FindingItem';

jest.mock('../worker/coreClient', () => jest.requireActual<object>('../../test/openPlan'));

const demo = demoPlan();
const all = evaluate(demo).findingsInWords();
const of = (code: DescribedFinding['code']) => all.find((finding) => finding.code === code) as DescribedFinding;

test('a finding says what is wrong and how it comes about, and a fix shows its changes before they are made', async () => {
  const finding = of('connection.id-twice');
  const { user, changes, plan } = opened(demo, () => <FindingItem finding={finding} />);
  const item = screen.getByRole('article', { name: finding.title });
  expect(within(item).getByText(finding.detail)).toBeTruthy();
  await user.click(within(item).getByRole('button', { name: 'Give each an id of its own' }));
  const dialog = await screen.findByRole('dialog');
  expect(changes).toEqual([]);
  await user.click(within(dialog).getByRole('button', { name: /^Apply/ }));
  expect(changes).toHaveLength(1);
  // Two members of one connection that share an id are what the finding was about.
  expect(
    evaluate(plan())
      .findings()
      .some(({ code }) => code === 'connection.id-twice'),
  ).toBe(false);
});

test('while it is about a draft nothing can be done about it', () => {
  opened(demo, () => <FindingItem finding={of('connection.id-twice')} canFix={false} />);
  expect(screen.queryAllByRole('button')).toEqual([]);
});
