/** Why something failed, in words for whoever looks at the page. What they typed and what is stored are untouched by it. */
export function formatFailure(error: unknown): string {
  if (error instanceof RangeError && /stack|depth/i.test(error.message))
    return 'Something in the plan leads back to itself, and following it did not end.';
  if (error instanceof Error && error.message !== '') return error.message;
  return typeof error === 'string' && error !== '' ? error : 'No reason was given.';
}
