// Quantities of the Kubernetes API: decimal and binary suffixes (from memory of its reference, Quantity).
const factors: Readonly<Record<string, number>> = {
  n: 1e-9,
  u: 1e-6,
  m: 1e-3,
  '': 1,
  k: 1e3,
  M: 1e6,
  G: 1e9,
  T: 1e12,
  P: 1e15,
  E: 1e18,
  Ki: 2 ** 10,
  Mi: 2 ** 20,
  Gi: 2 ** 30,
  Ti: 2 ** 40,
  Pi: 2 ** 50,
  Ei: 2 ** 60,
};

const MEBI = 2 ** 20;

/** A quantity as a number of its unit; undefined when it is none. */
function quantity(value: unknown): number | undefined {
  const text = typeof value === 'number' ? String(value) : typeof value === 'string' ? value : '';
  const found = /^(\d+(?:\.\d*)?|\.\d+)(?:([eE][+-]?\d+)|(n|u|m|k|M|G|T|P|E|Ki|Mi|Gi|Ti|Pi|Ei)?)$/.exec(text);
  return found === null ? undefined : Number(`${found[1] ?? ''}${found[2] ?? ''}`) * (factors[found[3] ?? ''] ?? 1);
}

/** CPU in thousandths of a vCPU, rounded up; undefined when it is no quantity. */
export function readMillis(value: unknown): number | undefined {
  const read = quantity(value);
  return read === undefined ? undefined : Math.ceil(read * 1000 - 1e-6);
}

/** Memory in MiB, rounded up; undefined when it is no quantity. */
export function readMib(value: unknown): number | undefined {
  const read = quantity(value);
  return read === undefined ? undefined : Math.ceil(read / MEBI - 1e-9);
}

/** CPU as it is written. */
export function writeMillis(millis: number): string {
  return millis % 1000 === 0 ? String(millis / 1000) : `${millis}m`;
}

/** Memory as it is written. */
export function writeMib(mib: number): string {
  return mib % 1024 === 0 ? `${mib / 1024}Gi` : `${mib}Mi`;
}
