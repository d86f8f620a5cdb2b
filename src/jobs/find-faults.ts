import type { Style } from '../base/styles.js';
import { nextTurn } from '../base/turn.js';
import type { SearchOptions, TriedFault } from '../comparing/index.js';
import { loadChoice, loadCodeFaults, loadModelFaults, loadPlanting } from '../comparing/loaders.js';
import { usualOptions, type ReadRuntime } from '../generation/index.js';
import { loadEmitting } from '../generation/loaders.js';
import type { Application } from '../model/application.js';
import type { PlantedFault } from '../workers/index.js';
import { loadFaultTrial } from '../workers/loaders.js';

export interface FaultOptions extends SearchOptions {
  /** At most so many faults, of each kind about as many; all if not given. */
  readonly most?: number | undefined;
  /** The number of workers that share the faults; 1 if not given, which is this thread. */
  readonly jobs?: number;
  /** Told how many of the faults have been tried. */
  readonly onTried?: (tried: number, of: number) => void;
}

/**
 * How good comparing is at finding faults: plants one after the other in the generated stores of some styles,
 * and looks for it.
 */
export async function findFaults(
  application: Application,
  styles: readonly Style[],
  readRuntime: ReadRuntime,
  options: FaultOptions,
): Promise<readonly TriedFault[]> {
  const { emitStyle } = await loadEmitting();
  const { codeFaults } = await loadCodeFaults();
  const { modelFaults } = await loadModelFaults();
  const { chooseEvenly } = await loadChoice();
  const { planted } = await loadPlanting();
  const { tryFaults } = await loadFaultTrial();
  const faults = [...modelFaults(application), ...codeFaults(application)];
  const emitted = (style: Style, model: Application) =>
    emitStyle(model, style, readRuntime, usualOptions);
  const candidates: PlantedFault[] = [];
  for (const style of styles) {
    const original = emitted(style, application);
    for (const fault of faults) {
      // An interruption, for one, gets its turn.
      await nextTurn();
      if (options.isStopped?.() === true) return [];
      try {
        const files = planted(fault, style, original, (model) => emitted(style, model));
        if (files !== undefined) candidates.push({ fault, folder: { name: style, style, files } });
      } catch (error) {
        // A model that cannot be emitted is one that check would have refused.
        if (fault.in === 'code') throw error;
      }
    }
  }
  const most = options.most ?? Infinity;
  const chosen = chooseEvenly(candidates, ({ fault }) => fault.kind, most, options.seed);
  return tryFaults(application, chosen, {
    ...options,
    onTried: (tried) => options.onTried?.(tried, chosen.length),
  });
}
