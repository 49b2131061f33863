interface LineProblemsProps {
  readonly problems: readonly { readonly line: number; readonly message: string; readonly mend: string }[];
  /** How many there are in all. */
  readonly all: number;
}

const MOST_SHOWN = 40;

/** What is wrong in a text, by line; the first of many. */
export function LineProblems({ problems, all }: LineProblemsProps) {
  if (problems.length === 0) return null;
  return (
    <ul className="mb-2" aria-label="Problems">
      {problems.slice(0, MOST_SHOWN).map(({ line, message, mend }, i) => (
        <li key={i} className="text-error">
          Line {line}: {message} {mend}
        </li>
      ))}
      {all > MOST_SHOWN && <li className="text-error">and {(all - MOST_SHOWN).toLocaleString('en-US')} more</li>}
    </ul>
  );
}
