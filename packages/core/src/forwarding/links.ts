import { addTo } from '../plan/index.js';
import type { Attachment, Link } from '../plan/index.js';
import type { ForwardingParts } from './forwardingParts.js';

const none: readonly never[] = [];

/** The links that stand, and what networks say and take over them. */
export class Links {
  private byNetwork: ReadonlyMap<string, readonly Link[]> | undefined;
  private attachments: ReadonlyMap<string, Attachment> | undefined;

  constructor(private readonly parts: Pick<ForwardingParts, 'links' | 'attachments'>) {}

  /** Links that stand and that a network stands on. */
  of(networkId: string): readonly Link[] {
    if (this.byNetwork === undefined) {
      const map = new Map<string, Link[]>();
      for (const link of this.parts.links) {
        if (link.isPlanned) continue;
        for (const id of link.networkIds) {
          if (this.attachmentOf(link, id)?.isPlanned === true) continue;
          addTo(map, id, link);
        }
      }
      this.byNetwork = map;
    }
    return this.byNetwork.get(networkId) ?? none;
  }

  /** What a network says and takes over a link; undefined where nothing is decided: everything. */
  attachmentOf(link: Link, networkId: string): Attachment | undefined {
    this.attachments ??= new Map(this.parts.attachments.map((each) => [`${each.linkId} ${each.networkId}`, each]));
    return this.attachments.get(`${link.id} ${networkId}`);
  }

  /** Whether a network takes what another one on a link advertises. */
  accepts(link: Link, networkId: string, fromId: string): boolean {
    const attachment = this.attachmentOf(link, networkId);
    if (attachment === undefined || attachment.accepts === 'all') return true;
    return attachment.accepts === 'listed' && attachment.acceptsFromIds.includes(fromId);
  }
}
