import { useState } from 'react';
import { usePlan } from './PlanContext';

/** The revision that an editor's text began from: the present one until something is typed, then that one until it is done. */
export function useBegan(isTyped: boolean): number {
  const { revision } = usePlan();
  const [began, setBegan] = useState(revision);
  if (!isTyped && began !== revision) setBegan(revision);
  return began;
}
