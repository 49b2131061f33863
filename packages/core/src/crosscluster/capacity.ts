import type { Connection, ConnectionMethod } from '../plan/index.js';

/** What gateways or relays of one member carry together, in Mbit/s: relays all carry, of gateways one does and the others stand by. */
export function carriedMbps(way: ConnectionMethod, eachMbps: number, working: number): number {
  return Math.round(10 * eachMbps * (way === 'relays' ? working : Math.min(1, working))) / 10;
}

/** Seconds until members know that one of them is gone: so many consecutive probes have to be lost. */
export function secondsToKnow({ probeSeconds, probesLost }: Pick<Connection, 'probeSeconds' | 'probesLost'>): number {
  return probeSeconds * probesLost;
}
