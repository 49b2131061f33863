import { useEffect, useState } from 'react';
import { core } from '../worker/coreClient';

/** A computation that takes longer than this is told of, in milliseconds. */
const PATIENCE_MS = 8000;

/** Says that something is still being computed, for how long, and stops it when it is told to. */
export function LongWork() {
  const [waited, setWaited] = useState(0);
  useEffect(() => {
    const look = setInterval(() => {
      const since = core.waitsSince();
      setWaited(since === undefined ? 0 : Date.now() - since);
    }, 1000);
    return () => clearInterval(look);
  }, []);
  if (waited < PATIENCE_MS) return null;
  return (
    <div
      role="status"
      className="bg-base-200 border-base-300 screen-only fixed bottom-3 left-3 z-30 flex items-center gap-3 border px-3 py-1.5 shadow"
    >
      Still computing, for {Math.round(waited / 1000)} s so far.
      <button type="button" className="btn btn-xs btn-outline" onClick={() => core.stop()}>
        Stop
      </button>
    </div>
  );
}
