import { formatNumber } from '@wide-lattice/core/working';
import * as Radix from '@radix-ui/react-tabs';
import type { ReactNode } from 'react';
import { FailureBoundary } from './FailureBoundary';

interface TabsProps<I extends string> {
  /** What the choice is about, for screen readers. */
  readonly label: string;
  readonly tabs: readonly { readonly id: I; readonly label: string; readonly count?: number }[];
  readonly chosen: I;
  readonly onChoose: (id: I) => void;
  /** What the chosen tab shows. */
  readonly children: ReactNode;
}

/** A row of tabs and what the chosen one shows; the arrow keys go from tab to tab. */
export function Tabs<I extends string>({ label, tabs, chosen, onChoose, children }: TabsProps<I>) {
  return (
    // Every value is the id of a tab.
    <Radix.Root value={chosen} onValueChange={(id) => onChoose(id as I)} className="contents">
      <Radix.List aria-label={label} className="rule-b flex flex-wrap px-3 pt-1">
        {tabs.map(({ id, label: name, count }) => (
          <Radix.Trigger
            key={id}
            value={id}
            className={`border-b-2 px-2 py-1 whitespace-nowrap ${id === chosen ? 'border-primary font-semibold' : 'hover:border-base-300 border-transparent'}`}
          >
            {name}
            {count !== undefined && <span className="quiet ml-1 text-xs font-normal">{formatNumber(count)}</span>}
          </Radix.Trigger>
        ))}
      </Radix.List>
      <Radix.Content value={chosen} className="flex min-h-0 flex-1 flex-col" tabIndex={-1}>
        <FailureBoundary>{children}</FailureBoundary>
      </Radix.Content>
    </Radix.Root>
  );
}
