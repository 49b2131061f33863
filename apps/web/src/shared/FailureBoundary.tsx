import { QueryErrorResetBoundary } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { ErrorBoundary } from 'react-error-boundary';
import type { FallbackProps } from 'react-error-boundary';
import { useLocation } from 'react-router';
import { usePlan } from '../plan/PlanContext';
import { formatFailure } from './formatFailure';

/** Where a part of the page fails, it says so in its place, and the rest of the page goes on. A change of the plan or of the address tries again. */
export function FailureBoundary({ children }: { readonly children: ReactNode }) {
  const { revision } = usePlan();
  const { pathname, search } = useLocation();
  return (
    <QueryErrorResetBoundary>
      {({ reset }) => (
        <ErrorBoundary onReset={reset} resetKeys={[revision, pathname, search]} FallbackComponent={Failure}>
          {children}
        </ErrorBoundary>
      )}
    </QueryErrorResetBoundary>
  );
}

function Failure({ error, resetErrorBoundary }: FallbackProps) {
  return (
    <div role="alert" className="flex flex-col items-start gap-3 px-4 py-4">
      <p className="heading">This could not be computed.</p>
      <p>{formatFailure(error)}</p>
      <p className="quiet">The plan is stored as it was; the other parts of the page go on.</p>
      <button type="button" className="btn btn-sm btn-outline" onClick={resetErrorBoundary}>
        Try again
      </button>
    </div>
  );
}
