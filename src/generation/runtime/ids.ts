// Identifiers of chance.

/** What browsers and servers alike have, whatever types of theirs the compiler knows. */
interface Platform {
  readonly crypto?: { randomUUID?(): string; getRandomValues?(bytes: Uint8Array): unknown };
}

const platform = globalThis as unknown as Platform;

/** A UUID of chance. Pages that were not loaded securely have no function for it, and some platforms no source of it. */
export function uuid(): string {
  const { crypto } = platform;
  if (crypto?.randomUUID) return crypto.randomUUID();
  const bytes = new Uint8Array(16).map(() => Math.random() * 256);
  crypto?.getRandomValues?.(bytes);
  const hex = [...bytes].map((byte, i) => {
    const marked = i === 6 ? (byte & 15) | 64 : i === 8 ? (byte & 63) | 128 : byte;
    return marked.toString(16).padStart(2, '0');
  });
  return hex.join('').replace(/(.{8})(.{4})(.{4})(.{4})/, '$1-$2-$3-$4-');
}
