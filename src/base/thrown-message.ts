/** What a rejection says: the message if that is text, else the whole as text; nothing if it cannot be asked. */
export function thrownMessage(error: unknown): string {
  try {
    const { message } = Object(error) as { message?: unknown };
    return typeof message === 'string' ? message : String(error);
  } catch {
    return '';
  }
}
