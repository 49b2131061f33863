import { Catch, HttpException, Logger } from '@nestjs/common';
import type { ArgumentsHost, ExceptionFilter } from '@nestjs/common';
import type { Response } from 'express';
import { QueryFailedError } from 'typeorm';
import { MAX_LEVELS, TOO_DEEP } from './depth.js';
import { BODY_LIMIT } from './limits.js';

/** Turns every failure into a plain answer: what is wrong and, where known, how to fix it; never a stack trace. */
@Catch()
export class ProblemFilter implements ExceptionFilter {
  private readonly log = new Logger('Http');

  catch(error: unknown, host: ArgumentsHost): void {
    const response = host.switchToHttp().getResponse<Response>();
    if (response.headersSent) {
      response.end();
      return;
    }
    const { status, body } = this.answer(error);
    if (typeof body['retryAfter'] === 'number') response.setHeader('retry-after', body['retryAfter']);
    response.status(status).json({ statusCode: status, ...body });
  }

  private answer(error: unknown): { status: number; body: Record<string, unknown> } {
    // The body reader's own errors reach here bare or as the cause of Nest's.
    const type = bodyProblem(error) ?? bodyProblem((error as { cause?: unknown } | null)?.cause);
    if (type === 'entity.too.large') {
      return { status: 413, body: { message: `The request is larger than ${BODY_LIMIT}. Send it in parts.` } };
    }
    if (type === TOO_DEEP)
      return {
        status: 400,
        body: { message: `The body has more than ${MAX_LEVELS} levels of lists and objects in one another.` },
      };
    if (type === 'charset.unsupported' || type === 'encoding.unsupported')
      return { status: 415, body: { message: 'The request body must be JSON in UTF-8.' } };
    if (type === 'entity.parse.failed' || type === 'request.size.invalid' || type === 'request.aborted')
      return { status: 400, body: { message: 'The request body is not JSON.' } };
    if (error instanceof HttpException) {
      const content = error.getResponse();
      return { status: error.getStatus(), body: typeof content === 'string' ? { message: content } : { ...content } };
    }
    if (error instanceof QueryFailedError && (error.driverError as { code?: string }).code === 'ER_DUP_ENTRY') {
      return { status: 422, body: { message: 'A name or place is taken already; nothing was saved.', problems: [] } };
    }
    this.log.error(error instanceof Error ? (error.stack ?? error.message) : String(error));
    return {
      status: 500,
      body: { message: 'The server failed, and its log says why. Whether anything was saved is unknown; look again.' },
    };
  }
}

function bodyProblem(error: unknown): unknown {
  return (error as { type?: unknown } | null | undefined)?.type;
}
