import {
  hasHistory,
  hasLazy,
  hasSaved,
  hasTasks,
  operationNamed,
  type Application,
} from '../../model/application.js';
import { secretsOf } from '../../model/secrets.js';
import type { EmitOptions } from '../emit-options.js';
import { hasMoves } from './reactions.js';
import type { RuntimePart } from './runtime-parts.js';

/** Whether anything starts by itself. */
export const begins = ({ stores }: Application): boolean =>
  stores.some(({ tasks }) => tasks.some(({ auto }) => auto !== undefined));

/** The parts of the run time that an application needs in a style: only where what was done is plain data it can be done again. */
export function partsOf(
  application: Application,
  style: string,
  { begin, readers, log }: Pick<EmitOptions, 'begin' | 'readers' | 'log'>,
): ReadonlySet<RuntimePart> {
  const tasks = application.stores.flatMap((store) => store.tasks);
  const called = tasks.flatMap(({ operation }) =>
    operation === undefined ? [] : [operationNamed(application, operation)],
  );
  const needed: Readonly<Record<RuntimePart, boolean>> = {
    tasks: hasTasks(application),
    auto: begins(application),
    begins: hasSaved(application) || begin === 'state',
    beside:
      hasTasks(application) ||
      hasHistory(application) ||
      (hasLazy(application) && style === 'atom'),
    committed: hasHistory(application) || hasSaved(application) || log,
    doing: hasTasks(application) && (style === 'reducer' || log),
    every: tasks.some(({ every }) => every !== undefined),
    extra: called.some(({ dropsExtra }) => dropsExtra),
    given: begin === 'state',
    history: hasHistory(application),
    kept: hasHistory(application) || hasSaved(application),
    lazy: hasLazy(application),
    log,
    old: application.stores.some(({ saved }) => saved?.old !== undefined),
    readers: readers.length > 0 && style === 'proxy',
    later: hasTasks(application) || hasMoves(application),
    replay: hasTasks(application) && style === 'reducer',
    retry: tasks.some(({ retry }) => retry !== undefined),
    saved: hasSaved(application),
    secret: log && secretsOf(application) !== undefined,
    streams: called.some(({ results }) => results !== undefined),
    timeLimit: tasks.some(({ timeLimit }) => timeLimit !== undefined),
    times: tasks.some(({ timeLimit, retry, every }) => (timeLimit ?? retry ?? every) !== undefined),
  };
  const names = Object.keys(needed) as RuntimePart[];
  return new Set(names.filter((name) => needed[name]));
}
