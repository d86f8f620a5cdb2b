/** What a rejection says: the message if that is text, else the whole as text. */
export function thrownMessage(error: unknown): string {
  try {
    const { message } = error as { message?: unknown };
    if (typeof message === 'string') return message;
  } catch {
    // There is nothing to ask, or the asking throws.
  }
  try {
    return String(error);
  } catch {
    return '';
  }
}
