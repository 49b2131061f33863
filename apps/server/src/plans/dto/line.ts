import { ValidateBy } from 'class-validator';
import { lineProblem } from '@wide-lattice/core/plan';

/** One line that a person wrote: not blank, at most this long, without what cannot be seen. */
export function IsLine(most: number): PropertyDecorator {
  return ValidateBy({
    name: 'isLine',
    validator: {
      validate: (value: unknown) => lineProblem('', value, 1, most) === undefined,
      defaultMessage: (of) => {
        const problem = lineProblem(of?.property ?? '', of?.value, 1, most);
        return problem === undefined ? '' : `${problem.message} ${problem.fix}`;
      },
    },
  });
}
