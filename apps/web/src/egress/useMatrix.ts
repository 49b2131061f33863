import { useEffect, useState } from 'react';
import { usePlan } from '../plan/PlanContext';
import { core } from '../worker/coreClient';
import type { ShownMatrix, ShownMatrixRow } from '../worker/slices/egress';

const AT_ONCE = 40;

/** The matrix as far as it is computed, how many rows there will be, and how to stop. What is done so far is kept. */
export interface MatrixState {
  readonly labels: readonly string[];
  readonly rows: readonly ShownMatrixRow[];
  readonly all: number;
  readonly isRunning: boolean;
  readonly stop: () => void;
}

/** Asks for the matrix part by part, anew at every revision. */
export function useMatrix(): MatrixState {
  const { session, revision, isMade } = usePlan();
  const [state, setState] = useState<Omit<MatrixState, 'stop'>>({ labels: [], rows: [], all: 0, isRunning: true });
  const [isStopped, setStopped] = useState(false);
  const [failure, setFailure] = useState<Error>();
  useEffect(() => {
    const control = new AbortController();
    const isOver = () => control.signal.aborted;
    if (isStopped) control.abort();
    const run = async () => {
      const rows: ShownMatrixRow[] = [];
      for (let first = 0; !isOver(); first += AT_ONCE) {
        const part: ShownMatrix = await core.askIn({ isMade, signal: control.signal }, 'matrix', first, AT_ONCE);
        rows.push(...part.rows);
        const isRunning = rows.length < part.all;
        if (!isOver()) setState({ labels: part.labels, rows: [...rows], all: part.all, isRunning });
        if (!isRunning) return;
      }
    };
    // Said by the part of the page around, as of any other answer that fails.
    run().catch((error: unknown) => !isOver() && setFailure(error instanceof Error ? error : new Error(String(error))));
    return () => control.abort();
  }, [session.planId, revision, isMade, isStopped]);
  if (failure !== undefined) throw failure;
  return {
    ...state,
    isRunning: state.isRunning && !isStopped,
    stop: () => setStopped(true),
  };
}
