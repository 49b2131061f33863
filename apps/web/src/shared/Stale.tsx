import type { ReactNode } from 'react';
import { Computing } from './Halves';

/** An answer; while another one is asked for, what stands there is the last, and says so. */
export function Stale({ isFresh, children }: { readonly isFresh: boolean; readonly children: ReactNode }) {
  return (
    <>
      {!isFresh && <Computing />}
      <div className={isFresh ? 'contents' : 'opacity-40'} aria-busy={!isFresh}>
        {children}
      </div>
    </>
  );
}
