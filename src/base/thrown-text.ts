/** What was thrown, in words. It may be anything, also something that throws when it is looked at. */
export function thrownText(thrown: unknown): string {
  try {
    if (thrown instanceof Error) return `${String(thrown.name)}: ${String(thrown.message)}`;
    return String(thrown);
  } catch {
    return `${typeof thrown} that cannot be shown as text`;
  }
}
