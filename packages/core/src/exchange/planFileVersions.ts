import { fallbackOf, kindOf, kinds, rulesOf } from '../plan/index.js';
import type { Kind } from '../plan/index.js';
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
  const lists = kinds.map((kind) => [
    kind,
    kindOf[kind].since > version ? [] : completedAll(kind, content[kind], version),
  ]);
  return {
    ...content,
    settings: completed('settings', content['settings'], version),
    ...(Object.fromEntries(lists) as object),
    version: PLAN_FILE_VERSION,
  };
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
