import { LRUCache } from 'lru-cache';
import { LIMITS } from './limits.js';
import type { World } from './world.js';

/** What was made by key, until the world changes. */
export class Remembered<V extends object> {
  private readonly known = new LRUCache<string, V>({ max: LIMITS.remembered });
  private version = 0;

  constructor(private readonly world: Pick<World, 'version'>) {}

  of(key: string, make: () => V): V {
    if (this.version !== this.world.version) {
      this.known.clear();
      this.version = this.world.version;
    }
    const known = this.known.get(key);
    if (known !== undefined) return known;
    const made = make();
    this.known.set(key, made);
    return made;
  }
}
