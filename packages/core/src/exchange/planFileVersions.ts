import { defaultSettings, withFallbacks } from '../plan/index.js';
import type { Kind } from '../plan/index.js';

type Content = Readonly<Record<string, unknown>>;

/** Lists that came with version 2. */
const newInVersion2: readonly Kind[] = ['shapes', 'blocks', 'subnets', 'attachments', 'runs'];

/** Kinds that got fields with version 2; their usual values keep what the file meant. */
const widerInVersion2: readonly Kind[] = ['profiles', 'sites', 'networks', 'links', 'clusters'];

/** Brings the content of an older plan file to the present version; undefined when that version is not known. */
export function upgradePlanFile(content: Content): Content | undefined {
  if (content['version'] === 2) return content;
  return content['version'] === 1 ? toVersion2(content) : undefined;
}

function toVersion2(content: Content): Content {
  const lists = newInVersion2.map((kind) => [kind, []]);
  const wider = widerInVersion2.map((kind) => [kind, completed(kind, content[kind])]);
  const settings = isObject(content['settings']) ? { settings: { ...defaultSettings, ...content['settings'] } } : {};
  return { ...content, ...settings, ...(Object.fromEntries([...lists, ...wider]) as object), version: 2 };
}

function isObject(value: unknown): value is object {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

/** What is no list of entries is left for the reader to refuse. */
function completed(kind: Kind, items: unknown): unknown {
  if (!Array.isArray(items)) return items;
  return items.map((item: unknown) => (isObject(item) ? withFallbacks(kind, item) : item));
}
