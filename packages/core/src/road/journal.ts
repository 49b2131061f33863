import type { Encapsulation } from '../plan/index.js';
import type { Happening, RoadEvent } from './event.js';
import type { Packet } from './packet.js';
import type { Spot } from './place.js';

/** What a packet met so far, and how it is now. */
export class Journal {
  readonly events: RoadEvent[] = [];
  /** What wraps the packet, outermost first. */
  wraps: readonly Encapsulation[] = [];
  /** Largest packet that has passed whole, in bytes. */
  room = Number.POSITIVE_INFINITY;

  constructor(public packet: Packet) {}

  /** Writes what happened at a place. */
  write(spot: Spot, happening: Happening): void {
    this.events.push({ spot, packet: this.packet, wraps: this.wraps, room: this.room, ...happening });
  }

  /** Writes what changed the packet: it goes on as `after`. */
  change(spot: Spot, after: Packet, happening: Happening): void {
    const before = this.packet;
    this.packet = after;
    this.events.push({ spot, packet: after, before, wraps: this.wraps, room: this.room, ...happening });
  }

  /** Where the last event was. */
  get spot(): Spot {
    return this.events.at(-1)?.spot ?? { kind: 'network', name: '' };
  }
}
