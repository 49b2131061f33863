import { defaultSettings, withFallbacks } from '../plan/index.js';
import type { Kind } from '../plan/index.js';
import { PLAN_FILE_VERSION } from './planFileSchema.js';

type Content = Readonly<Record<string, unknown>>;

/** Lists that came with version 2. */
const newInVersion2: readonly Kind[] = ['shapes', 'blocks', 'subnets', 'attachments', 'runs'];

/** Kinds that got fields with version 2; their usual values keep what the file meant. */
const widerInVersion2: readonly Kind[] = ['profiles', 'sites', 'networks', 'links', 'clusters'];

/** Lists that came with version 3. */
const newInVersion3: readonly Kind[] = ['templates', 'nodePools', 'rebuilds'];

/** Kinds that got fields with version 3. */
const widerInVersion3: readonly Kind[] = ['profiles', 'shapes', 'clusters'];

/** Brings the content of an older plan file to the present version; undefined when that version is not known. */
export function upgradePlanFile(content: Content): Content | undefined {
  switch (content['version']) {
    case 1:
      return upgraded(upgraded(content, newInVersion2, widerInVersion2), newInVersion3, widerInVersion3);
    case 2:
      return upgraded(content, newInVersion3, widerInVersion3);
    case PLAN_FILE_VERSION:
      return content;
    default:
      return undefined;
  }
}

/** Lists that are new are empty; entities that got fields have the usual values there. */
function upgraded(content: Content, newKinds: readonly Kind[], widerKinds: readonly Kind[]): Content {
  const lists = newKinds.map((kind) => [kind, []]);
  const wider = widerKinds.map((kind) => [kind, completed(kind, content[kind])]);
  const settings = isObject(content['settings']) ? { settings: { ...defaultSettings, ...content['settings'] } } : {};
  return {
    ...content,
    ...settings,
    ...(Object.fromEntries([...lists, ...wider]) as object),
    version: PLAN_FILE_VERSION,
  };
}

function isObject(value: unknown): value is object {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

/** What is no list of entries is left for the reader to refuse. */
function completed(kind: Kind, items: unknown): unknown {
  if (!Array.isArray(items)) return items;
  return items.map((item: unknown) => (isObject(item) ? withFallbacks(kind, item) : item));
}
