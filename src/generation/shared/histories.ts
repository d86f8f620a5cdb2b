import { hasHistory, type Application, type Store } from '../../model/application.js';
import { aboutMoves, moves } from '../../model/history.js';
import type { Step } from '../../model/steps.js';
import {
  code,
  data,
  doc,
  entry,
  isNothing,
  joined,
  nothing,
  object,
  word,
  type Code,
} from '../build/code.js';
import type { Module } from '../build/module.js';
import { hasMoves, hasStep } from './reactions.js';

/** The entries of what the run time is told of a history. */
export function historyPlan({ history, single }: Store): Code | undefined {
  if (history === undefined) return undefined;
  const { of, limit, together } = history;
  return object([
    ...(single ? [] : [entry('of', data(of))]),
    entry('limit', data(limit)),
    ...(together.length === 0 ? [] : [entry('together', data(together))]),
  ]);
}

/** The fields of a store, what can be undone of them, and what is derived, which may read that: one block without a history. */
export function withHistory(
  fields: readonly Code[],
  history: Code,
  derived: readonly Code[],
): readonly Code[] {
  if (isNothing(history)) return [joined([...fields, ...derived], '\n')];
  return [joined(fields, '\n'), history, joined(derived, '\n')];
}

/** The type of what can be read of the history of a store; nothing if it has none. */
export function historyReadings({ history }: Store, module: Module): Code {
  if (history === undefined) return nothing;
  return code`${module.type('runtime/histories', 'HistoryReadings')}`;
}

/** The full names of the actions that go through histories. */
const moveNames = ({ stores }: Application): readonly string[] =>
  stores.flatMap(({ name, history }) =>
    history === undefined ? [] : moves.map((move) => `${name}.${move}`),
  );

/** How the functions of actions ask for an undo, and empty histories, as far as any of them does. */
export function historyTools(application: Application): readonly Code[] {
  if (!hasHistory(application)) return [];
  const tools: Code[] = [];
  if (hasMoves(application)) {
    const names = joined(moveNames(application).map(data), ' | ');
    tools.push(
      code`${doc('Undoes or redoes after the action.')}readonly later: (action: ${names}) => void;`,
    );
  }
  if (hasStep(application, 'history', ({ does }) => does === 'reset')) {
    const names = application.stores.filter(({ history }) => history !== undefined);
    const stores = joined(
      names.map(({ name }) => data(name)),
      ' | ',
    );
    tools.push(
      code`${doc('Forgets at the end of the action what can be undone.')}readonly forgetHistory: (store: ${stores}) => void;`,
    );
  }
  return tools;
}

/** A step that has to do with a history, as a call of a tool. */
export function historyCall({ store, does }: Step & { readonly kind: 'history' }) {
  return does === 'reset'
    ? { tool: 'forgetHistory', argument: data(store) }
    : { tool: 'later', argument: data(`${store}.${does}`) };
}

/** The members of a type for the actions that go through the history of a store. */
export function moveMembers({ history }: Store, outcome: Code): readonly Code[] {
  if (history === undefined) return [];
  return moves.map(
    (move) => code`${doc(aboutMoves[move])}readonly ${word(move)}: () => ${outcome};`,
  );
}
