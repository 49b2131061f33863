import { useRouteError } from 'react-router';

/** Shown in the place of a page that could not be fetched; what else failed in it is told as everywhere. */
export function NotLoaded() {
  const error = useRouteError();
  if (!(error instanceof TypeError && /module|fetch/i.test(error.message))) throw error;
  return (
    <div role="alert" className="flex flex-col items-start gap-3 px-4 py-4">
      <p className="heading">This page could not be fetched.</p>
      <p>The server may be away, or a newer version may have been started. The plan is stored as it was.</p>
      <button type="button" className="btn btn-sm btn-outline" onClick={() => window.location.reload()}>
        Try again
      </button>
    </div>
  );
}
