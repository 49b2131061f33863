import { newId } from '@wide-lattice/core/plan';

const CLIENT = 'wide-lattice.client';
const AUTHOR = 'wide-lattice.author';

/** This tab's own id; it survives a reload, so that undo does. */
export function clientId(): string {
  const known = sessionStorage.getItem(CLIENT);
  if (known !== null) return known;
  const fresh = newId();
  sessionStorage.setItem(CLIENT, fresh);
  return fresh;
}

/** The name changes are signed with. */
export function authorName(): string {
  return localStorage.getItem(AUTHOR) ?? 'Engineer';
}

/** Sets the name changes are signed with. */
export function setAuthorName(name: string): void {
  localStorage.setItem(AUTHOR, name.trim().slice(0, 80) || 'Engineer');
}
