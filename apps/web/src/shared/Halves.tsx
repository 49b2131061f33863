import type { ReactNode } from 'react';

/** A working screen: decisions on the left, what follows on the right. */
export function Halves({
  left,
  right,
  rightWidth = '26rem',
}: {
  readonly left: ReactNode;
  readonly right: ReactNode;
  readonly rightWidth?: string;
}) {
  return (
    <div className="grid min-h-0 flex-1" style={{ gridTemplateColumns: `minmax(0, 1fr) ${rightWidth}` }}>
      <section aria-label="Decisions" className="rule-r flex min-h-0 min-w-0 flex-col overflow-auto">
        {left}
      </section>
      <section aria-label="Consequences" className="flex min-h-0 min-w-0 flex-col overflow-auto" tabIndex={0}>
        {right}
      </section>
    </div>
  );
}

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
      <div className="mb-1.5 flex min-h-6 items-center justify-between gap-3">
        <h2 className="heading">{title}</h2>
        {aside}
      </div>
      {children}
    </section>
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
