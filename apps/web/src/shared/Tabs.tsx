interface TabsProps<I extends string> {
  /** What the choice is about, for screen readers. */
  readonly label: string;
  readonly tabs: readonly { readonly id: I; readonly label: string; readonly count?: number }[];
  readonly chosen: I;
  readonly onChoose: (id: I) => void;
}

/** A row of short choices of which one is shown below. */
export function Tabs<I extends string>({ label, tabs, chosen, onChoose }: TabsProps<I>) {
  return (
    <div className="rule-b flex flex-wrap px-3 pt-1" role="group" aria-label={label}>
      {tabs.map(({ id, label: name, count }) => (
        <button
          key={id}
          type="button"
          aria-pressed={id === chosen}
          className={`border-b-2 px-2 py-1 whitespace-nowrap ${id === chosen ? 'border-primary font-semibold' : 'hover:border-base-300 border-transparent'}`}
          onClick={() => onChoose(id)}
        >
          {name}
          {count !== undefined && (
            <span className="quiet ml-1 text-xs font-normal">{count.toLocaleString('en-US')}</span>
          )}
        </button>
      ))}
    </div>
  );
}
