import { addOperation, withFallbacks } from '@wide-lattice/core';
import type { Operation } from '@wide-lattice/core';

/** A stored change with the usual values where an entity it adds was written before a field came to be. */
export function completed(stored: Operation[] | string): Operation[] {
  const operations = typeof stored === 'string' ? (JSON.parse(stored) as Operation[]) : stored;
  return operations.map((operation) =>
    operation.op === 'add' ? addOperation(operation.kind, withFallbacks(operation.kind, operation.entity)) : operation,
  );
}
