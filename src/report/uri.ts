/** A path as a relative URI reference, or a file URI if it is absolute. */
export function uriOf(path: string): string {
  const parts = path.replaceAll('\\', '/').split('/').map(encodeURIComponent).join('/');
  return parts.startsWith('/') ? `file://${parts}` : parts;
}
