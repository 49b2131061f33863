import { v7 } from 'uuid';

/** A fresh id: UUID version 7 (RFC 9562 5.7), so later ids sort after earlier ones. */
export function newId(): string {
  return v7();
}
