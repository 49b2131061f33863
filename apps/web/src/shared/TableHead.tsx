interface TableHeadProps {
  readonly labels: readonly string[];
  /** From this column on, from 0, figures stand to the right; none when left out. */
  readonly rightFrom?: number;
}

/** The head of a table: quiet labels over their columns. */
export function TableHead({ labels, rightFrom = labels.length }: TableHeadProps) {
  return (
    <thead>
      <tr className="quiet rule-b text-left">
        {labels.map((label, i) =>
          // What has no label heads nothing.
          label === '' ? (
            <td key={label} />
          ) : (
            <th key={label} className={`py-0.5 font-normal ${i >= rightFrom ? 'pl-3 text-right' : 'pr-2'}`}>
              {label}
            </th>
          ),
        )}
      </tr>
    </thead>
  );
}
