import { Printer } from 'lucide-react';
import type { ReactNode } from 'react';

/** A document on screen as it comes out of the printer. */
export function Paper({ children }: { readonly children: ReactNode }) {
  return (
    <div className="paper min-h-0 flex-1 overflow-auto" tabIndex={0}>
      <div className="mx-auto max-w-4xl px-6 py-5">
        <div className="screen-only mb-3 flex justify-end">
          <button type="button" className="btn btn-sm btn-primary" onClick={() => window.print()}>
            <Printer size={14} aria-hidden /> Print
          </button>
        </div>
        {children}
      </div>
    </div>
  );
}
