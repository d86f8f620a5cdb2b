import type { GeneratedFile } from './project.js';

/** The files as the common formatter writes them with its default settings. */
export async function formatFiles(files: readonly GeneratedFile[]): Promise<GeneratedFile[]> {
  const [prettier, typescript, estree] = await Promise.all([
    import('prettier/standalone'),
    import('prettier/plugins/typescript'),
    import('prettier/plugins/estree'),
  ]);
  const plugins = [typescript, estree.default];
  return Promise.all(
    files.map(async ({ path, text }) => ({
      path,
      text: await prettier.format(text, { filepath: path, plugins }),
    })),
  );
}
