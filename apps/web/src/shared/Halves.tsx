import type { ReactNode } from 'react';
import { Group, Panel, Separator, useDefaultLayout } from 'react-resizable-panels';
import { FailureBoundary } from './FailureBoundary';
import { useIsNarrow } from './useIsNarrow';

interface HalvesProps {
  /** The screen, under which its split is kept: "egress". */
  readonly screen: string;
  readonly left: ReactNode;
  readonly right: ReactNode;
  /** Width of the right half until somebody drags the split. */
  readonly rightWidth?: string;
}

/** A working screen: decisions on the left, what follows on the right, split where it was last dragged to; below one another where it is narrow. */
export function Halves({ screen, left, right, rightWidth = '26rem' }: HalvesProps) {
  const isNarrow = useIsNarrow();
  const { defaultLayout, onLayoutChanged } = useDefaultLayout({
    id: `wide-lattice.split.${screen}`,
    onlySaveAfterUserInteractions: true,
  });
  const decisions = (
    <section aria-label="Decisions" className={half(isNarrow)}>
      <FailureBoundary>{left}</FailureBoundary>
    </section>
  );
  const consequences = (
    <section aria-label="Consequences" className={half(isNarrow)} tabIndex={0}>
      <FailureBoundary>{right}</FailureBoundary>
    </section>
  );
  if (isNarrow)
    return (
      <div className="min-h-0 flex-1 overflow-auto">
        {decisions}
        {consequences}
      </div>
    );
  return (
    <Group
      orientation="horizontal"
      className="min-h-0 flex-1"
      {...(defaultLayout === undefined ? {} : { defaultLayout })}
      onLayoutChanged={onLayoutChanged}
    >
      <Panel id="decisions" minSize="18rem">
        {decisions}
      </Panel>
      <Separator id="split" className="split" aria-label="Split between decisions and consequences" />
      <Panel id="consequences" defaultSize={rightWidth} minSize="18rem">
        {consequences}
      </Panel>
    </Group>
  );
}

const half = (isNarrow: boolean) =>
  `flex min-h-0 min-w-0 flex-col overflow-auto ${isNarrow ? 'rule-b max-h-[85vh] min-h-[60vh]' : 'h-full'}`;

/** A headed part of a half. */
export function Part({
  title,
  aside,
  children,
}: {
  readonly title: string;
  readonly aside?: ReactNode;
  readonly children: ReactNode;
}) {
  return (
    <section className="rule-b px-4 py-3" aria-label={title}>
      <div className="mb-1.5 flex min-h-6 flex-wrap items-center justify-between gap-3">
        <h2 className="heading">{title}</h2>
        {aside}
      </div>
      {children}
    </section>
  );
}

/** While an answer is on its way and there is none to show yet. */
export function Computing() {
  return (
    <p role="status" className="quiet px-4 py-3">
      Computing...
    </p>
  );
}

/** What to do next where there is nothing yet. */
export function Empty({ children, action }: { readonly children: ReactNode; readonly action?: ReactNode }) {
  return (
    <div className="flex flex-col items-center gap-3 px-6 py-10 text-center">
      <p className="quiet max-w-md">{children}</p>
      {action}
    </div>
  );
}
