import { bad, good } from '../../result.js';
import type { Result } from '../../result.js';
import { byId } from '../collection.js';
import type { Plan } from '../entities.js';
import { readZone } from './question.js';

/** What outages name. */
export type OutageNames = Pick<Plan, 'sites' | 'natDevices' | 'firewalls' | 'links'>;

/** One thing that is lost. */
export type OutagePart =
  | { readonly lost: 'zone'; readonly siteId: string; readonly zone: string }
  | { readonly lost: 'site' | 'NAT device' | 'firewall' | 'link'; readonly id: string };

/** What is lost while a question is asked: zones as forwarding counts them (site id and zone), devices and links by id. */
export interface Outage {
  readonly zones: ReadonlySet<string>;
  readonly devices: ReadonlySet<string>;
  readonly links: ReadonlySet<string>;
}

const kinds = { site: 'sites', 'NAT device': 'natDevices', firewall: 'firewalls', link: 'links' } as const;

/** Reads what is lost, parts set apart by semicolons: "zone a of Basalt hall; link hub", "site Basalt hall", "NAT device n1", "firewall f1". */
export function readOutageParts(plan: OutageNames, text: string): Result<readonly OutagePart[]> {
  const parts: OutagePart[] = [];
  for (const words of text.split(';').map((each) => each.trim())) {
    if (words === '') continue;
    const [, what = '', name = ''] = /^(zone|site|NAT device|firewall|link) (.+)$/i.exec(words) ?? [];
    if (/^zone$/i.test(what)) {
      const zone = readZone(plan, name);
      if (!zone.ok) return zone;
      const [siteId = '', ...rest] = zone.value.split(' ');
      parts.push({ lost: 'zone', siteId, zone: rest.join(' ') });
      continue;
    }
    const lost = (Object.keys(kinds) as (keyof typeof kinds)[]).find(
      (each) => each.toLowerCase() === what.toLowerCase(),
    );
    const rows: readonly { readonly id: string; readonly name: string }[] = lost === undefined ? [] : plan[kinds[lost]];
    const found = rows.find((row) => row.name.toLowerCase() === name.toLowerCase());
    if (lost === undefined || found === undefined)
      return bad(
        'outage.unknown',
        `"${words}" names nothing that can be lost.`,
        'Write zone a of a site, site, NAT device, firewall or link with its name, several set apart by semicolons.',
      );
    parts.push({ lost, id: found.id });
  }
  return good(parts);
}

/** Reads what is lost as sets. */
export function readOutage(plan: OutageNames, text: string): Result<Outage> {
  const read = readOutageParts(plan, text);
  return read.ok ? good(outageAsSets(plan, read.value)) : read;
}

/** What is lost, as sets. */
export function outageAsSets(plan: Pick<OutageNames, 'sites'>, parts: readonly OutagePart[]): Outage {
  const [zones, devices, links] = [new Set<string>(), new Set<string>(), new Set<string>()];
  for (const part of parts) {
    if (part.lost === 'zone') zones.add(`${part.siteId} ${part.zone}`);
    else if (part.lost === 'site')
      for (const zone of byId(plan.sites, part.id)?.zones ?? []) zones.add(`${part.id} ${zone}`);
    else if (part.lost === 'link') links.add(part.id);
    else devices.add(part.id);
  }
  return { zones, devices, links };
}

/** What is lost in the words that read back as it. */
export function writeOutage(plan: OutageNames, parts: readonly OutagePart[]): string {
  return parts
    .map((part) => {
      if (part.lost === 'zone') return `zone ${part.zone} of ${byId(plan.sites, part.siteId)?.name ?? ''}`;
      const rows: readonly { readonly id: string; readonly name: string }[] = plan[kinds[part.lost]];
      return `${part.lost} ${byId(rows, part.id)?.name ?? ''}`;
    })
    .join('; ');
}
