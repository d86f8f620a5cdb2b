import { exprOf, type Action, type Application } from './application.js';
import type { Span } from '../diagnostics/source.js';
import { allSteps, type Step } from './steps.js';

/** Something that a run may reach or not. */
export interface CoverPoint {
  /** `deck.admit done`, `deck.admit.requires[0] refused`, `deck.depart.steps[2] then`. */
  readonly id: string;
  readonly span: Span;
}

/** Everything that a run can reach in an application's actions, in schema order. */
export function coverPoints(application: Application): readonly CoverPoint[] {
  return application.stores.flatMap((store) => [
    ...store.actions.flatMap((action) => pointsOfAction(`${store.name}.${action.name}`, action)),
    ...store.reactions.flatMap(({ at, span, steps }) => [
      { id: `${at} done`, span },
      ...pointsOfSteps(steps),
    ]),
  ]);
}

function pointsOfAction(name: string, action: Action): CoverPoint[] {
  const refused = action.requires.map((needed) => ({
    id: `${needed.at} refused`,
    span: exprOf(needed).span,
  }));
  return [{ id: `${name} done`, span: action.span }, ...refused, ...pointsOfSteps(action.steps)];
}

function pointsOfSteps(steps: readonly Step[]): CoverPoint[] {
  return allSteps(steps).flatMap((step) =>
    outcomesOf(step).map((outcome) => ({ id: `${step.at} ${outcome}`, span: step.span })),
  );
}

/** The ways in which a step can go. */
export function outcomesOf(step: Step): readonly string[] {
  switch (step.kind) {
    case 'when':
      return ['then', 'else'];
    case 'update':
    case 'remove':
      return step.choice.kind === 'where' ? ['none', 'one', 'several'] : ['none', 'one'];
    case 'drop':
      return ['none', 'one'];
    case 'put':
      return ['added', 'replaced'];
    case 'set':
      return step.entries.some(({ path }) => path.segments.some(({ kind }) => kind !== 'property'))
        ? ['stored', 'missing']
        : [];
    case 'toggle':
      return step.value === undefined ? [] : ['added', 'removed'];
    case 'add':
    case 'move':
    case 'let':
    case 'reset':
    case 'resetStores':
    case 'run':
      return [];
  }
}
