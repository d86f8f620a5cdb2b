import type { Style } from '../base/styles.js';
import {
  usualOptions,
  type EmitOptions,
  type GeneratedFile,
  type ReadRuntime,
} from '../generation/index.js';
import {
  loadEmitting,
  loadFormatting,
  loadJavaScript,
  loadOneFile,
} from '../generation/loaders.js';
import { withCompiler } from '../library/with-compiler.js';
import type { Application } from '../model/application.js';
import { kindOfStyle, withHeader } from '../model/file-header.js';
import type { GeneratedFolder } from '../participants/index.js';

export interface GenerateOptions {
  /** The version that the files say wrote them. */
  readonly version: string;
  /** The schema's file name, for the same purpose. */
  readonly schema: string;
  readonly readRuntime: ReadRuntime;
  /** True if what `readRuntime` gives is formatted already; false if not given. */
  readonly isRuntimeFormatted?: boolean;
  /** The options of the output; the usual if not given. */
  readonly output?: Partial<EmitOptions>;
}

/** The files of one style, formatted, each with a header that holds a checksum of the rest. */
export async function generateStyle(
  application: Application,
  style: Style,
  options: GenerateOptions,
): Promise<readonly GeneratedFile[]> {
  const { emitStyle } = await loadEmitting();
  const { formatFiles } = await loadFormatting();
  const wanted = { ...usualOptions, ...options.output };
  const emitted = emitStyle(application, style, options.readRuntime, wanted);
  // What is in the run time for a log was formatted beside what stands there without one.
  const isRuntimeFormatted = options.isRuntimeFormatted === true && !wanted.log;
  const files = await formatFiles(await arranged(emitted, wanted), isRuntimeFormatted);
  const { version, schema } = options;
  const kind = kindOfStyle(style, wanted.checks !== 'never');
  return files.map(({ path, text }) => ({
    path,
    text: withHeader(text, { version, schema, kind }),
  }));
}

/** The files in the layout and the language that are wanted. */
async function arranged(
  files: readonly GeneratedFile[],
  { layout, language }: EmitOptions,
): Promise<readonly GeneratedFile[]> {
  let arranged = files;
  if (layout === 'one-file') {
    const { inOneFile } = await withCompiler(loadOneFile);
    const apart = files.filter(({ isApart }) => isApart);
    arranged = [...inOneFile(files.filter(({ isApart }) => !isApart)), ...apart];
  }
  if (language === 'js') arranged = (await withCompiler(loadJavaScript)).asJavaScript(arranged);
  return arranged;
}

/** The stores of each style as they are generated, not formatted: formatting changes nothing that runs. */
export async function generatedInMemory(
  application: Application,
  styles: readonly Style[],
  readRuntime: ReadRuntime,
  output: Partial<EmitOptions> = {},
): Promise<GeneratedFolder[]> {
  const { emitStyle } = await loadEmitting();
  const options = { ...usualOptions, ...output };
  return styles.map((style) => ({
    name: style,
    style,
    files: emitStyle(application, style, readRuntime, options),
  }));
}
