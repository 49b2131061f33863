import { isRouteErrorResponse, Link, useRouteError } from 'react-router';

/** Shown for an address that leads nowhere, and for a view that failed. */
export function NotFound() {
  const error = useRouteError();
  const isFailure = error !== undefined && error !== null && !isRouteErrorResponse(error);
  return (
    <main className="m-auto max-w-lg p-8 text-center">
      <h1 className="mb-2 text-xl font-semibold">{isFailure ? 'This view failed' : 'Nothing is at this address'}</h1>
      <p className="quiet mb-4">
        {isFailure
          ? `${error instanceof Error ? error.message : 'Unknown error'}. The plan itself is stored on the server.`
          : 'The link may be from another installation, or the plan was removed.'}
      </p>
      <Link className="btn btn-sm btn-primary" to="/">
        To the plans
      </Link>
    </main>
  );
}
