/** Where the API takes whole numbers alone; ports of probes, targets and policies may be names. Source: Kubernetes API, fields of type int32. */
const whole = [
  /^spec\.ports\[\d+\]\.(?:port|nodePort)$/,
  /^spec\.replicas$/,
  /\.(?:containerPort|hostPort)$/,
  /\.service\.port\.number$/,
  /\.(?:backendRefs|listeners)\[\d+\]\.(?:port|weight)$/,
];

/** Numbers of an object that are written as texts, which the API refuses, each with its path. */
export function quotedNumbers(object: unknown, path = ''): { readonly path: string; readonly value: string }[] {
  if (typeof object === 'string') return whole.some((each) => each.test(path)) ? [{ path, value: object }] : [];
  if (Array.isArray(object)) return object.flatMap((each, at) => quotedNumbers(each, `${path}[${at}]`));
  if (typeof object !== 'object' || object === null) return [];
  return Object.entries(object).flatMap(([name, value]) =>
    quotedNumbers(value, path === '' ? name : `${path}.${name}`),
  );
}
