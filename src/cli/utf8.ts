import { isUtf8 } from 'node:buffer';

/** Bytes that are no UTF-8 text. */
export class NotUtf8 extends Error {
  /** `offset`: of the first byte that is none, from 0. */
  constructor(readonly offset: number) {
    super(`byte ${offset} is not UTF-8`);
  }
}

/** Bytes as text. Throws {@link NotUtf8}. */
export function utf8Text(bytes: Uint8Array): string {
  if (!isUtf8(bytes)) throw new NotUtf8(firstOther(bytes));
  return new TextDecoder().decode(bytes);
}

/** The first byte that belongs to no character. */
function firstOther(bytes: Uint8Array): number {
  let [from, to] = [0, bytes.length];
  // Up to `from` all is text, or the beginning of a character; up to `to` it is not.
  while (from < to) {
    const middle = (from + to) >> 1;
    if (isBeginning(bytes.subarray(0, middle + 1))) from = middle + 1;
    else to = middle;
  }
  // What began a character that does not go on is none.
  return Math.min(from - openBytes(bytes.subarray(0, from)), bytes.length - 1);
}

/** True if bytes can be the beginning of a text. */
function isBeginning(bytes: Uint8Array): boolean {
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes, { stream: true });
    return true;
  } catch {
    return false;
  }
}

/** Chunks of bytes as chunks of text; a character may begin in one and end in the next. Throws {@link NotUtf8}. */
export async function* utf8Chunks(chunks: AsyncIterable<Uint8Array>): AsyncGenerator<string> {
  const decoder = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true });
  let read = 0;
  let rest: Uint8Array = new Uint8Array();
  for await (const chunk of chunks) {
    const both = Buffer.concat([rest, chunk]);
    const whole = both.length - openBytes(both);
    try {
      yield decoder.decode(both.subarray(0, whole));
    } catch {
      throw new NotUtf8(read + firstOther(both.subarray(0, whole)));
    }
    rest = both.subarray(whole);
    read += whole;
  }
  // The last character is cut off, as what a program writes that ends in the middle.
  if (rest.length > 0) yield '\uFFFD';
}

/** How many bytes at the end are the beginning of a character that is not complete. */
function openBytes(bytes: Uint8Array): number {
  for (let back = 1; back <= Math.min(3, bytes.length); back++) {
    const byte = bytes[bytes.length - back] ?? 0;
    if (byte < 0x80) return 0;
    if (byte < 0xc0) continue;
    const length = byte >= 0xf0 ? 4 : byte >= 0xe0 ? 3 : 2;
    return length > back ? back : 0;
  }
  return 0;
}
