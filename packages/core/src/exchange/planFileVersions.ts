import { fallbackOf, kindOf, kinds, newId, rulesOf, withFallbacks } from '../plan/index.js';
import type { Kind, RouteTable } from '../plan/index.js';
import { PLAN_FILE_VERSION } from './planFileSchema.js';

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
  const named = version < 5 ? tablesByName(content['subnets']) : undefined;
  const written: Content = { ...content, ...(named === undefined ? {} : { subnets: named.subnets }) };
  const lists = kinds.map((kind) => [
    kind,
    kindOf[kind].since > version ? [] : completedAll(kind, written[kind], version),
  ]);
  return {
    ...content,
    settings: completed('settings', content['settings'], version),
    ...(Object.fromEntries(lists) as object),
    ...(named === undefined ? {} : { routeTables: [...named.tables.values()] }),
    version: PLAN_FILE_VERSION,
  };
}

/** Up to version 4 a subnet named its route table; each name in a network becomes a table of it. */
function tablesByName(subnets: unknown): {
  readonly subnets: unknown;
  readonly tables: ReadonlyMap<string, RouteTable>;
} {
  const tables = new Map<string, RouteTable>();
  if (!Array.isArray(subnets)) return { subnets, tables };
  const rewritten = subnets.map((subnet: unknown) => {
    if (typeof subnet !== 'object' || subnet === null || !('routeTable' in subnet)) return subnet;
    const { routeTable, ...rest } = subnet as { readonly routeTable: unknown; readonly networkId?: unknown };
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
  if (typeof item !== 'object' || item === null || Array.isArray(item)) return item;
  const later = Object.entries(rulesOf(kind)).filter(([, rule]) => (rule.since ?? 1) > version);
  return { ...Object.fromEntries(later.map(([field, rule]) => [field, fallbackOf(rule)])), ...item };
}
