import { figure, formatNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';

/** Mean radius of the earth in kilometres: (2a + b) / 3 of WGS 84, as IUGG 1980 defines it. */
const RADIUS_KM = 6371.0088;

/** Light in fibre: 300,000 km/s by a refractive index of about 1.47. Common practice. */
export const FIBRE_KM_PER_S = 204_000;

/** A place on earth: degrees north, -90 to 90, and east, -180 to 180. */
export interface Point {
  readonly latitude: number;
  readonly longitude: number;
}

/** The place of a site; undefined while its coordinates are not known. */
export function pointOf(
  site: { readonly latitude: number | null; readonly longitude: number | null } | undefined,
): Point | undefined {
  if (site === undefined || site.latitude === null || site.longitude === null) return undefined;
  return { latitude: site.latitude, longitude: site.longitude };
}

/** Kilometres along the great circle between two places, on a sphere of the mean radius: within 0.6 % of the ellipsoid. Haversine formula. */
export function greatCircle(a: Point, b: Point): number {
  const rad = (degrees: number) => (degrees * Math.PI) / 180;
  const half = (from: number, to: number) => Math.sin(rad(to - from) / 2) ** 2;
  const h =
    half(a.latitude, b.latitude) +
    Math.cos(rad(a.latitude)) * Math.cos(rad(b.latitude)) * half(a.longitude, b.longitude);
  return 2 * RADIUS_KM * Math.asin(Math.sqrt(Math.min(1, h)));
}

/** Milliseconds below which no round trip over so many kilometres of fibre can be. */
export function roundTripMs(km: number): number {
  return (2000 * km) / FIBRE_KM_PER_S;
}

/** The round trip that light in fibre takes at least between two places, with its working. */
export function latencyFloor(
  from: { readonly name: string; readonly at: Point },
  to: { readonly name: string; readonly at: Point },
): Figure {
  const km = greatCircle(from.at, to.at);
  const value = rounded(roundTripMs(km));
  const said = ({ latitude, longitude }: Point) => `${latitude}° north, ${longitude}° east`;
  return figure(value, 'ms', () => ({
    title: `Latency floor, ${from.name} to ${to.name}`,
    formula: '2 × great circle ÷ speed of light in fibre',
    inputs: [
      { name: from.name, value: said(from.at) },
      { name: to.name, value: said(to.at) },
      { name: 'Radius of the earth', value: `${RADIUS_KM} km` },
      { name: 'Light in fibre', value: `${formatNumber(FIBRE_KM_PER_S)} km/s` },
    ],
    steps: [
      `Great circle: ${formatNumber(Math.round(km))} km`,
      `2 × ${formatNumber(Math.round(km))} ÷ ${formatNumber(FIBRE_KM_PER_S)} km/s = ${value} ms`,
    ],
    result: `${value} ms there and back`,
    source: {
      mark: 'C',
      text: 'Common practice: cables are longer than the great circle, and devices wait, so it is never less',
    },
  }));
}

/** To a hundredth. */
export function rounded(value: number): number {
  return Math.round(100 * value) / 100;
}

/** What one TCP stream carries at most: a window each round trip, in Mbit/s. Source: RFC 9293 3.8.6, RFC 7323 1.1. */
export function streamMbps(windowBytes: number, ms: number): Figure {
  const value = ms === 0 ? 0 : Math.round((windowBytes * 8) / ms / 100) / 10;
  return figure(value, 'Mbit/s', () => ({
    title: 'One TCP stream at most',
    formula: 'window × 8 ÷ round trip',
    inputs: [
      { name: 'Window', value: `${formatNumber(windowBytes)} bytes` },
      { name: 'Round trip', value: `${ms} ms` },
    ],
    steps: [`${formatNumber(windowBytes)} × 8 ÷ ${ms} ms = ${formatNumber(value)} Mbit/s`],
    result: ms === 0 ? 'not bounded by distance' : `${formatNumber(value)} Mbit/s`,
    source: { mark: 'S', text: 'RFC 9293 3.8.6, RFC 7323 1.1: no more than a window is on the way' },
  }));
}
