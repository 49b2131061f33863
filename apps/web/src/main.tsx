import './index.css';
import { QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { RouterProvider } from 'react-router';
import { toast, Toaster } from 'sonner';
import { newQueryClient } from './app/queries';
import { router } from './app/router';
import { applyStoredTheme } from './app/theme';
import { formatFailure } from './shared/formatFailure';

applyStoredTheme();
// What a button began and nobody waits for is told all the same when it fails.
window.addEventListener('unhandledrejection', (event) => toast.error(formatFailure(event.reason)));
const queries = newQueryClient();
const root = document.getElementById('root');
if (root === null) throw new Error('index.html has no #root');
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <RouterProvider router={router} />
      <Toaster position="bottom-right" toastOptions={{ className: 'font-sans' }} />
    </QueryClientProvider>
  </StrictMode>,
);
