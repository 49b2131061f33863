import type { Attachment } from '@wide-lattice/core';
import { EntityId, Field } from './field.js';

/** What one network tells and takes over one link. */
export class AttachmentDto implements Attachment {
  @EntityId() id: string;
  @Field('attachments', 'linkId') linkId: string;
  @Field('attachments', 'networkId') networkId: string;
  @Field('attachments', 'advertises') advertises: string[];
  @Field('attachments', 'learns') learns: Attachment['learns'];
  @Field('attachments', 'learnsFromIds') learnsFromIds: string[];
}
