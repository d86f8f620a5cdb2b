// Compiles the format's JSON Schema to a validator without dependencies, so that no command waits for Ajv.
import { readFileSync, writeFileSync } from 'node:fs';
import { Ajv2020 } from 'ajv/dist/2020.js';
import standaloneCode from 'ajv/dist/standalone/index.js';
import { build } from 'esbuild';

const schema = JSON.parse(readFileSync('schema/leeshore-1.schema.json', 'utf8'));
const ajv = new Ajv2020({
  allErrors: true,
  verbose: true,
  strictTypes: false,
  code: { source: true, esm: true },
});
const contents = standaloneCode.default(ajv, ajv.compile(schema));
const bundle = await build({
  stdin: { contents, resolveDir: process.cwd(), loader: 'js' },
  bundle: true,
  format: 'esm',
  write: false,
});
writeFileSync('src/language/check/format-validator.js', bundle.outputFiles[0].text);
