// The document of jsdom lacks what Node and every browser have.
import { TextDecoder, TextEncoder } from 'node:util';
import { webcrypto } from 'node:crypto';
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

const { structuredClone: clone } = globalThis;
Object.assign(globalThis, { TextDecoder, TextEncoder });
if (globalThis.crypto?.getRandomValues === undefined) Object.defineProperty(globalThis, 'crypto', { value: webcrypto });
globalThis.structuredClone = clone ?? ((value) => JSON.parse(JSON.stringify(value)));
globalThis.IS_REACT_ACT_ENVIRONMENT = true;
// As wide as a desk.
globalThis.matchMedia ??= () => ({
  matches: false,
  addEventListener: () => undefined,
  removeEventListener: () => undefined,
});
// Nothing has a size here, so nothing is ever told of a change of it.
globalThis.ResizeObserver ??= class {
  observe() {}
  unobserve() {}
  disconnect() {}
};

// For tests of what a long session keeps.
globalThis.collectGarbage = () => {
  setFlagsFromString('--expose_gc');
  runInNewContext('gc')();
};
