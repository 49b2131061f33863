import { byId } from '../collection.js';
import type { Plan } from '../entities.js';
import { readFieldValue } from '../fieldValues.js';
import { clusters } from './clusters.js';
import { wrong } from './rules.js';
import type { FieldProblem, KindRules } from './rules.js';
import type { Template } from './templates.js';

export const templatesRules: KindRules<Template> = {
  label: ({ name }) => name,
  about: ({ sets }) => `sets ${sets.length} fields`,
  // What it sets must be fields of clusters, and it may be based on another template, never on itself by any way.
  betweenEntities: (plan, template) => {
    const found = fieldValueProblems(template);
    return found.length > 0 ? found : cycleProblems(plan, template);
  },
};

function fieldValueProblems(template: Template): FieldProblem[] {
  const read = template.sets.map(readFieldValue);
  const bad = read.find((each) => !each.ok);
  if (bad?.ok === false) return [wrong('sets', 'template.field', bad.message, bad.fix)];
  const fields = read.flatMap((each) => (each.ok ? [each.field] : []));
  const twice = fields.find((field, i) => fields.indexOf(field) !== i);
  if (twice === undefined) return [];
  return [
    wrong('sets', 'template.field-twice', `${clusters.fields[twice].label} is set twice.`, 'Remove one of the two.'),
  ];
}

function cycleProblems(plan: Plan, template: Template): FieldProblem[] {
  const names = [template.name];
  for (let next = byId(plan.templates, template.basedOnId ?? ''); next !== undefined;) {
    names.push(next.name);
    if (next.id === template.id)
      return [
        wrong(
          'basedOnId',
          'template.cycle',
          `The template would follow itself: ${names.join(', based on ')}.`,
          'Base one of them on nothing.',
        ),
      ];
    if (names.length > plan.templates.length + 1) return [];
    next = byId(plan.templates, next.basedOnId ?? '');
  }
  return [];
}
