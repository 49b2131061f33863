import { formatNumber } from '@wide-lattice/core/working';
import { useEffect, useState } from 'react';
import { core } from '../worker/coreClient';
import type { Waiting } from '../worker/coreHandle';

/** A computation that takes longer than this is told of, in milliseconds. */
const PATIENCE_MS = 1000;

/** Says what is still being computed, how far it is and for how long, and stops it when it is told to. */
export function LongWork() {
  const [shown, setShown] = useState<{ readonly waiting: Waiting; readonly seconds: number }>();
  useEffect(() => {
    const look = setInterval(() => {
      const waiting = core.longest();
      const waited = waiting === undefined ? 0 : Date.now() - waiting.since;
      setShown(
        waiting === undefined || waited < PATIENCE_MS ? undefined : { waiting, seconds: Math.round(waited / 1000) },
      );
    }, 300);
    return () => clearInterval(look);
  }, []);
  if (shown === undefined) return null;
  const { waiting, seconds } = shown;
  const { progress } = waiting;
  return (
    <div
      role="status"
      className="bg-base-200 border-base-300 screen-only fixed bottom-3 left-3 z-30 flex items-center gap-3 border px-3 py-1.5 shadow"
    >
      {/* Figures that change all the time would be read out all the time. */}
      <span className="sr-only">Still computing.</span>
      {progress === undefined ? (
        <span aria-hidden>Still computing, for {seconds} s so far.</span>
      ) : (
        <>
          <span aria-hidden>
            Computing {progress.what}: {formatNumber(progress.done)} of {formatNumber(progress.of)}, for {seconds} s so
            far.
          </span>
          <progress
            className="progress w-24"
            aria-label="How much is computed"
            value={progress.done}
            max={Math.max(1, progress.of)}
          />
        </>
      )}
      <button type="button" className="btn btn-xs btn-outline" onClick={waiting.stop}>
        Stop
      </button>
    </div>
  );
}
