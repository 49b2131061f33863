import { readOutage } from '../question/outage.js';
import { readPlace, readWish } from '../question/question.js';
import type { Expectation } from './expectations.js';
import type { FieldProblem, KindRules } from './rules.js';

export const expectationsRules: KindRules<Expectation> = {
  label: ({ name }) => name,
  about: ({ from, to, verdict }) => `${from} to ${to} ${verdict}`,
  // A plan may hold one that cannot be read any more, since what it names can go; then it is a finding.
  mistypes: (plan, { from, to, during }) => {
    const problems: FieldProblem[] = [];
    const place = readPlace(plan, from);
    if (!place.ok) problems.push({ field: 'from', ...place.problem });
    const target = readWish(plan, to);
    if (!target.ok) problems.push({ field: 'to', ...target.problem });
    const outage = readOutage(plan, during);
    if (!outage.ok) problems.push({ field: 'during', ...outage.problem });
    return problems;
  },
};
