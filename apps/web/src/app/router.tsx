import { lazy, Suspense } from 'react';
import { createBrowserRouter, Navigate } from 'react-router';
import { Frame } from './Frame';
import { NotFound } from './NotFound';
import { NotLoaded } from './NotLoaded';
import { pages, plansPage } from './pages';
import type { Page } from './pages';

/** A page that is fetched when it is first shown. */
function fetched(page: Page) {
  const Fetched = lazy(page);
  return (
    <Suspense fallback={<p className="quiet m-auto p-8">Opening the page...</p>}>
      <Fetched />
    </Suspense>
  );
}

/** Every address of the interface; what is shown is in the address, so a link reopens it. */
export const router = createBrowserRouter([
  { path: '/', element: fetched(plansPage), errorElement: <NotFound /> },
  {
    path: '/plans/:planId',
    element: <Frame />,
    errorElement: <NotFound />,
    children: [
      { index: true, element: <Navigate to="board" replace /> },
      ...Object.entries(pages).map(([path, page]) => ({ path, element: fetched(page), errorElement: <NotLoaded /> })),
    ],
  },
  { path: '*', element: <NotFound /> },
]);
