// Lets esbuild bundle single-file components of Vue: their script and template, compiled by Vue's own compiler.
import { readFileSync } from 'node:fs';
import { compileScript, parse } from 'vue/compiler-sfc';

export const vueFiles = {
  name: 'vue-files',
  setup({ onLoad }) {
    onLoad({ filter: /\.vue$/ }, ({ path }) => {
      const { descriptor, errors } = parse(readFileSync(path, 'utf8'), { filename: path });
      if (errors.length > 0) return { errors: errors.map(({ message }) => ({ text: message })) };
      const { content } = compileScript(descriptor, { id: path, inlineTemplate: true });
      return { contents: content, loader: 'ts' };
    });
  },
};
