import { HttpException, HttpStatus } from '@nestjs/common';
import type { Request } from 'express';
import { MAX_FILE_BYTES } from '@wide-lattice/core/plan';

/** The path whose body is a file, and is read here and not as the JSON of a request. */
export const UPLOAD_PATH = '/api/plans/import';

/** A file as it was sent. */
export interface Upload {
  readonly bytes: Buffer;
  readonly isCompressed: boolean;
}

/** Reads the body of a request as it comes, up to the largest file; plain or compressed (RFC 9110 8.4.1.3). */
export async function readUpload(request: Request): Promise<Upload> {
  const encoding = request.headers['content-encoding'] ?? 'identity';
  if (encoding !== 'identity' && encoding !== 'gzip')
    throw new HttpException(
      { message: `The file is encoded as ${encoding.slice(0, 40)}; send it plain or as gzip.` },
      HttpStatus.UNSUPPORTED_MEDIA_TYPE,
    );
  const parts: Buffer[] = [];
  let length = 0;
  // Not cut off where it is too much: the answer would not come back.
  for await (const part of request.iterator({ destroyOnReturn: false }) as AsyncIterable<Buffer>) {
    length += part.length;
    if (length > MAX_FILE_BYTES) break;
    parts.push(part);
  }
  if (length > MAX_FILE_BYTES) {
    request.resume();
    throw new HttpException(
      {
        message: `The file has more than ${MAX_FILE_BYTES / 1_000_000} MB, the most that is read. Make two plans of it.`,
      },
      HttpStatus.PAYLOAD_TOO_LARGE,
    );
  }
  return { bytes: Buffer.concat(parts), isCompressed: encoding === 'gzip' };
}
