import { copyFileSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import ts from 'typescript';
import { surveyApplication } from '../src/survey/survey.js';

/** How long a survey takes beside the compiler alone, how many places it finds, and the memory of both in one process. */
export interface SurveyCost {
  readonly compilerMs: number;
  readonly surveyMs: number;
  readonly places: number;
  readonly megabytes: number;
}

/** Surveys so many generated modules on the old terminal. */
export async function surveying(count: number): Promise<SurveyCost> {
  const folder = mkdtempSync(join(tmpdir(), 'leeshore-bench-'));
  try {
    const old = join(folder, 'terminal.ts');
    copyFileSync('examples/skerry/old/terminal.ts', old);
    const modules = [join(folder, 'session.ts')];
    writeFileSync(
      modules[0] ?? '',
      "import { Terminal } from './terminal';\nexport const terminal = new Terminal(() => '1', () => 0);\n",
    );
    mkdirSync(join(folder, 'src'));
    for (let i = 0; i < count; i++) {
      const path = join(folder, `src/part-${i}.${i % 5 === 0 ? 'tsx' : 'ts'}`);
      writeFileSync(path, moduleText(i));
      modules.push(path);
    }
    const start = performance.now();
    const options = { target: ts.ScriptTarget.ESNext, jsx: ts.JsxEmit.Preserve, types: [] };
    ts.createProgram([...modules, old], options).getTypeChecker();
    const between = performance.now();
    const { left } = await surveyApplication({ modules, old: [old], folder });
    return {
      compilerMs: between - start,
      surveyMs: performance.now() - between,
      places: left.length,
      megabytes: process.memoryUsage().rss / 1_000_000,
    };
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** A module of some 90 lines; every third uses the old store in six places. */
function moduleText(i: number): string {
  const parts = Array.from(
    { length: 12 },
    (_, k) => `
export function part${k}(list: readonly { readonly id: string; readonly size: number }[], limit: number): number {
  const sizes = list.filter(({ size }) => size < limit).map(({ size }) => size * ${k + 1});
  let total = 0;
  for (const size of sizes) total += size > ${k} ? size : limit;
  return total + sizes.length;
}`,
  );
  const uses =
    i % 3 === 0
      ? `
export const plates = () => terminal.cars.filter((car) => car.state === 'waiting').map(({ plate }) => plate);
export function act(id: string): number {
  if (terminal.canBoard()) terminal.driveOn(id);
  return terminal.capacity;
}`
      : '';
  const imports = [
    ...(i % 3 === 0 ? ["import { terminal } from '../session';"] : []),
    ...(i > 0 ? [`import { part0 as before } from './part-${i - 1}';`] : []),
  ];
  const last = i > 0 ? `\nexport const value = before([], ${i});` : '';
  return `${imports.join('\n')}\n${parts.join('\n')}\n${uses}${last}\n`;
}
