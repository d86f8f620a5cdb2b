import type { GeneratedFile } from './project.js';

/** No code is formatted more often than this. */
const mostPasses = 4;

/** The files as the common formatter writes them with its default settings. */
export async function formatFiles(files: readonly GeneratedFile[]): Promise<GeneratedFile[]> {
  const [prettier, typescript, estree] = await Promise.all([
    import('prettier/standalone'),
    import('prettier/plugins/typescript'),
    import('prettier/plugins/estree'),
  ]);
  const plugins = [typescript, estree.default];
  const format = (text: string, path: string) => prettier.format(text, { filepath: path, plugins });
  return Promise.all(
    files.map(async ({ path, text }) => {
      let [before, after] = [text, await format(text, path)];
      // What the formatter makes of some code it would write in yet another way: until it would not.
      for (let i = 0; i < mostPasses && after !== before; i++)
        [before, after] = [after, await format(after, path)];
      return { path, text: after };
    }),
  );
}
