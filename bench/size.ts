import { gzipSync } from 'node:zlib';
import { build } from 'esbuild';

/** Bytes of a bundle, minified, and compressed as servers send it. */
export interface Size {
  readonly minified: number;
  readonly gzipped: number;
}

/** The size of what an application gets that imports this file. */
export async function sizeOf(entry: string): Promise<Size> {
  const { outputFiles } = await build({
    entryPoints: [entry],
    bundle: true,
    minify: true,
    write: false,
    format: 'esm',
    define: { 'process.env.NODE_ENV': '"production"' },
  });
  const bytes = outputFiles[0]?.contents ?? new Uint8Array();
  return { minified: bytes.length, gzipped: gzipSync(bytes, { level: 9 }).length };
}
