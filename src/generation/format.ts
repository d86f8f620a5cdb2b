import type { GeneratedFile } from './generated-file.js';

/** No code is formatted more often than this. */
const mostPasses = 4;

/** The files as the common formatter writes them with its default settings; those of the run time may be so already. */
export async function formatFiles(
  files: readonly GeneratedFile[],
  isRuntimeFormatted: boolean,
): Promise<GeneratedFile[]> {
  const format = await loadFormatter();
  return Promise.all(
    files.map(async ({ path, text, isRuntime = false }) => ({
      path,
      text: isRuntime && isRuntimeFormatted ? text : await onceFormatted(text, format),
    })),
  );
}

/** What was formatted last: files that are alike in several styles, or that a change of the schema has left alone. */
const known = new Map<string, Promise<string>>();
const mostKnown = 500;

function onceFormatted(text: string, format: Format): Promise<string> {
  let formatted = known.get(text);
  if (formatted === undefined) {
    if (known.size >= mostKnown) known.clear();
    known.set(text, (formatted = stable(text, format)));
  }
  return formatted;
}

type Format = (text: string) => Promise<string>;

async function loadFormatter(): Promise<Format> {
  // Of the two readers of TypeScript that the formatter has, this one takes half of the other's time.
  const [prettier, babel, estree] = await Promise.all([
    import('prettier/standalone'),
    import('prettier/plugins/babel'),
    import('prettier/plugins/estree'),
  ]);
  const plugins = [babel.default, estree.default];
  const filepath = 'generated.ts';
  return (text) => prettier.format(text, { filepath, parser: 'babel-ts', plugins });
}

/** Only chains of calls over several lines are sometimes written in another way a second time. */
const brokenChain = /^ *\./m;

/** Formats until another time would change nothing. */
async function stable(text: string, format: Format): Promise<string> {
  let [before, after] = [text, await format(text)];
  for (let i = 1; i < mostPasses && after !== before && brokenChain.test(after); i++) {
    [before, after] = [after, await format(after)];
  }
  return after;
}
