import { formatNumber } from '@wide-lattice/core/working';
interface LineProblemsProps {
  readonly problems: readonly { readonly line: number; readonly message: string; readonly fix: string }[];
  /** How many there are in all. */
  readonly all: number;
}

const MAX_SHOWN = 40;

/** What is wrong in a text, by line; the first of many. */
export function LineProblems({ problems, all }: LineProblemsProps) {
  if (problems.length === 0) return null;
  return (
    <ul className="mb-2" aria-label="Problems">
      {problems.slice(0, MAX_SHOWN).map(({ line, message, fix }, i) => (
        <li key={i} className="text-error">
          Line {line}: {message} {fix}
        </li>
      ))}
      {all > MAX_SHOWN && <li className="text-error">and {formatNumber(all - MAX_SHOWN)} more</li>}
    </ul>
  );
}
