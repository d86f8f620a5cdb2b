import type { Style } from '../base/styles.js';
import type { EmitOptions } from '../generation/index.js';
import type { Application } from '../model/application.js';
import type { StyleWeight, Weighing } from '../weigh/index.js';
import { loadStyleWeight, loadWeighing } from '../weigh/loaders.js';
import { generatedInMemory, generateStyle, type GenerateOptions } from './generate.js';

/** The stores to weigh: those of a schema in some styles, and the old store beside them. */
export interface WeighOptions extends GenerateOptions {
  readonly styles: readonly Style[];
  /** The module of the old store, relative to `folder`. */
  readonly against?: string | undefined;
  readonly folder: string;
  /** Told before each style. */
  readonly begin?: (style: Style, number: number) => void;
}

/** Weighs the stores of a schema as an application would load them. Throws {@link WeighError} for an old store that cannot be bundled. */
export async function weighStores(
  application: Application,
  { styles, against, folder, begin, ...options }: WeighOptions,
): Promise<Weighing> {
  const { weighFiles, weighModule } = await loadWeighing();
  const { styleWeight } = await loadStyleWeight();
  const names = application.stores.map(({ name }) => name);
  const weighed: StyleWeight[] = [];
  for (const [i, style] of styles.entries()) {
    begin?.(style, i);
    const files = await generateStyle(application, style, options);
    const changed = async (own: Partial<EmitOptions>) => {
      const output = { ...options.output, ...own };
      const [made] = await generatedInMemory(application, [style], options.readRuntime, output);
      return weighFiles(made?.files ?? [], 'index.ts');
    };
    weighed.push(
      await styleWeight(style, names, files, await changed({}), {
        '--checks never': await changed({ checks: 'never' }),
        '--guard never': await changed({ guard: 'never' }),
      }),
    );
  }
  const old = against === undefined ? undefined : await weighModule(against, folder);
  return {
    styles: weighed,
    against:
      against === undefined || old === undefined
        ? null
        : { path: against, minified: old.minified, gzipped: old.gzipped },
  };
}
