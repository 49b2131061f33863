import { HttpException, HttpStatus } from '@nestjs/common';

/** When those who are refused because others are before them may ask again. */
const RETRY_SECONDS = 5;

/** A refusal that says when to try again, in words and in Retry-After (RFC 9110 10.2.3). */
export function refusedForNow(why: string): HttpException {
  return new HttpException(
    { message: `${why} Try again in ${RETRY_SECONDS} seconds.`, retryAfter: RETRY_SECONDS },
    HttpStatus.SERVICE_UNAVAILABLE,
  );
}
