import type { Fault } from '../../../src/comparing/faults/fault.js';
import { planted } from '../../../src/comparing/faults/plant.js';
import type { SearchOptions } from '../../../src/comparing/search-options.js';
import type { Application } from '../../../src/model/application.js';
import { compareStores } from '../../../src/jobs/compare.js';
import type { GeneratedFolder } from '../../../src/participants/generated-participant.js';
import { foldersOf, unlimited } from '../../helpers.js';

/** Looks for faults that are planted in the generated stores of an application. */
export class FaultFinder {
  private constructor(
    readonly application: Application,
    readonly folders: readonly GeneratedFolder[],
  ) {}

  static async of(application: Application): Promise<FaultFinder> {
    return new FaultFinder(application, await foldersOf(application));
  }

  /** Compares the stores of a style with the reference, with a fault in them; throws if it does not fit there. */
  async look(
    fault: Fault,
    style: string,
    seed: number,
    steps = 20_000,
    options: Partial<SearchOptions> = {},
  ) {
    const folder = this.folders.find((one) => one.style === style) as GeneratedFolder;
    const emitted =
      fault.in === 'model' ? await foldersOf(fault.application, [folder.style as 'atom']) : [];
    const files = planted(fault, style, folder.files, () => emitted[0]?.files ?? []);
    if (files === undefined) throw new Error(`'${fault.kind}' cannot be planted in ${style}`);
    return compareStores(this.application, [{ ...folder, files }], {
      ...unlimited,
      seed,
      steps,
      ...options,
    });
  }
}
