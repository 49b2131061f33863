import { fallbackOf, kindOf, kinds, newId, rulesOf, withFallbacks } from '../plan/index.js';
import type { Kind, RouteTable } from '../plan/index.js';
import { PLAN_FILE_VERSION } from './planFileSchema.js';
import { fieldsOf14, kindOf14 } from './renamedIn14.js';

type Content = Readonly<Record<string, unknown>>;

/**
 * Brings the content of an older plan file to the present version; undefined when that version is not known. Lists that
 * came later are empty, and fields that came later have their usual value, which keeps what the file meant.
 */
export function upgradePlanFile(content: Content): Content | undefined {
  const { version } = content;
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1 || version > PLAN_FILE_VERSION)
    return undefined;
  if (version === PLAN_FILE_VERSION) return content;
  const called = version < 14 ? inNamesOf14(content) : content;
  const named = version < 5 ? tablesByName(called['subnets']) : undefined;
  const written: Content = { ...called, ...(named === undefined ? {} : { subnets: named.subnets }) };
  const lists = kinds.map((kind) => [
    kind,
    kindOf[kind].since > version ? [] : completedAll(kind, written[kind], version),
  ]);
  return {
    ...written,
    settings: completed('settings', written['settings'], version),
    ...(Object.fromEntries(lists) as object),
    ...(named === undefined ? {} : { routeTables: [...named.tables.values()] }),
    version: PLAN_FILE_VERSION,
  };
}

/** Lists and fields under the names that they have since version 14; a list under both names is left for the reader to refuse. */
function inNamesOf14(content: Content): Content {
  const called = (key: string) => (Object.hasOwn(content, kindOf14(key)) ? key : kindOf14(key));
  return Object.fromEntries(
    Object.entries(content).map(([key, value]) => [
      called(key),
      Array.isArray(value) ? value.map((item: unknown) => renamed(key, item)) : renamed(key, value),
    ]),
  );
}

/** What has a field under both names is left for the reader to refuse. */
function renamed(key: string, item: unknown): unknown {
  if (!isFields(item)) return item;
  const now = fieldsOf14(key, item);
  return Object.keys(now).length === Object.keys(item).length ? now : item;
}

function isFields(value: unknown): value is Content {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

/** Up to version 4 a subnet named its route table; each name in a network becomes a table of it. */
function tablesByName(subnets: unknown): {
  readonly subnets: unknown;
  readonly tables: ReadonlyMap<string, RouteTable>;
} {
  const tables = new Map<string, RouteTable>();
  if (!Array.isArray(subnets)) return { subnets, tables };
  const rewritten = subnets.map((subnet: unknown) => {
    if (!isFields(subnet) || !('routeTable' in subnet)) return subnet;
    const { routeTable, ...rest } = subnet;
    const { networkId } = rest;
    // What is no text is left for the reader to refuse.
    if (typeof routeTable !== 'string' || typeof networkId !== 'string') return subnet;
    if (routeTable === '') return rest;
    const key = `${networkId} ${routeTable}`;
    const table = tables.get(key) ?? withFallbacks('routeTables', { id: newId(), networkId, name: routeTable });
    tables.set(key, table);
    return { ...rest, routeTableId: table.id };
  });
  return { subnets: rewritten, tables };
}

/** What is no list of entries is left for the reader to refuse. */
function completedAll(kind: Kind, items: unknown, version: number): unknown {
  return Array.isArray(items) ? items.map((item: unknown) => completed(kind, item, version)) : items;
}

function completed(kind: Kind | 'settings', item: unknown, version: number): unknown {
  if (!isFields(item)) return item;
  const later = Object.entries(rulesOf(kind)).filter(([, rule]) => (rule.since ?? 1) > version);
  return { ...Object.fromEntries(later.map(([field, rule]) => [field, fallbackOf(rule)])), ...item };
}
